import 'reflect-metadata';
import { IsNumber, IsOptional, IsString, Length, Max, MaxLength, Min } from 'class-validator';

/** A study as it is opened: one question, and the smallest difference that matters to its reader. */
export class NewStudy {
  @IsString({ message: 'Give the study a title.' })
  @Length(1, 120, { message: 'The title needs 1 to 120 characters.' })
  title!: string;

  @IsOptional()
  @IsString()
  @MaxLength(1000, { message: 'The question holds up to 1000 characters.' })
  question?: string;

  @IsNumber({ allowNaN: false }, { message: 'The margin is a number in K, such as 1.' })
  @Min(0.01, { message: 'A margin below 0.01 K is finer than any sensor.' })
  @Max(50, { message: 'A margin above 50 K would call everything tied.' })
  margin_k!: number;
}
