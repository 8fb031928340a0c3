import ical, { ICalCalendarMethod } from 'ical-generator';
import { listStudyOpenings, type StudyOpening } from '#db/openings';
import { database } from '#db/pool';
import { type AgeingAnswer, answerAgeing } from '#domain/ageing/answer';
import { hasSeveralAges } from '#domain/ageing/followed';
import { Refusal } from '../refusal';
import { type StudyResults, studyResults } from './studyResults';

export interface AgeingPlace {
  results: StudyResults;
  answer: AgeingAnswer | null;
  openings: StudyOpening[];
}

/** A study over the age of its mounts. */
export async function ageingPlace(id: number, by: 'time' | 'cycles' = 'time'): Promise<AgeingPlace> {
  const [results, openings] = await Promise.all([studyResults(id), listStudyOpenings(database(), id)]);
  const answer = answerAgeing(results.facts, by);
  // what was opened is not the same mount any more
  const opened = new Set(openings.map((o) => o.mount_id));
  return { results, answer: answer && { ...answer, due: answer.due.filter((d) => !opened.has(d.mount_id)) }, openings };
}

/** Is age of account: ages are planned, or a mount was measured over days? */
export function isAboutAgeing({ facts }: Pick<StudyResults, 'facts'>): boolean {
  return facts.ages.length > 0 || hasSeveralAges(facts.runs);
}

/** The next measurement of every mount as an iCalendar file (RFC 5545): at its instant, or by the bench's clock where that named no zone. */
export async function dueCalendar(id: number): Promise<string> {
  const { results, answer } = await ageingPlace(id);
  if (!answer || answer.due.length === 0) throw new Refusal('No measurement is due: every mount was measured at all its planned ages, or none are planned.');
  const { study } = results;
  const calendar = ical({
    name: `${study.title}: due`,
    method: ICalCalendarMethod.PUBLISH,
    prodId: { company: 'Warm Gauge', product: 'ageing', language: 'EN' },
  });
  for (const d of answer.due) {
    calendar.createEvent({
      id: `age-${d.mount_id}-${d.age_days}@warm-gauge`,
      start: new Date(d.due_s * 1000),
      end: new Date(d.due_s * 1000 + 3_600_000),
      floating: !d.zoned,
      summary: `${d.specimen}, mount ${d.mount}: measure at ${d.age_days} days`,
      description: study.title,
    });
  }
  return calendar.toString();
}
