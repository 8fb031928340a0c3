import { Type } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsString, MaxLength, ValidateNested } from 'class-validator';
import 'reflect-metadata';
import { REPORT_SECTION_KEYS, type ReportSectionKey } from './reportSections';

export { REPORT_SECTIONS, type ReportSectionKey } from './reportSections';

/** A section of a report: whether it is shown, and the tester's words above it. */
class DraftSection {
  @IsIn(REPORT_SECTION_KEYS, { message: `A section is one of ${REPORT_SECTION_KEYS.join(', ')}.` })
  key!: ReportSectionKey;

  @IsBoolean({ message: 'A section is shown or not.' })
  shown!: boolean;

  @MaxLength(6000, { message: 'The words of a section hold up to 6,000 characters.' })
  @IsString({ message: 'The words of a section are a text.' })
  words!: string;
}

/** How a report is put together. */
export class ReportDraft {
  @ValidateNested({ each: true, message: 'The sections are a list, each with its key, whether it is shown, and words.' })
  @ArrayMaxSize(REPORT_SECTION_KEYS.length, { message: 'Each section comes once.' })
  @IsArray({ message: 'The sections are a list.' })
  @Type(() => DraftSection)
  sections!: DraftSection[];
}
