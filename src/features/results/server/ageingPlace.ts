import ical, { ICalCalendarMethod } from 'ical-generator';
import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { listStudyOpenings, type StudyOpening } from '#features/mount/store/openings';
import { type AgeingAnswer, answerAgeing } from '#features/results/model/ageing/ageingAnswer';
import { type GatheredStudy, gatherStudy } from './studyResults';

interface AgeingPlace {
  results: GatheredStudy;
  answer: AgeingAnswer | null;
  openings: StudyOpening[];
}

/** A study over the age of its mounts. */
export async function ageingPlace(id: number, by: 'time' | 'cycles' = 'time'): Promise<AgeingPlace> {
  const [results, openings] = await Promise.all([gatherStudy(id), listStudyOpenings(database(), id)]);
  const answer = answerAgeing(results.facts, by);
  // what was opened is not the same mount any more
  const opened = new Set(openings.map((o) => o.mount_id));
  return { results, answer: answer && { ...answer, due: answer.due.filter((d) => !opened.has(d.mount_id)) }, openings };
}

/**
 * The next measurement of every mount as an iCalendar file (RFC 5545): at its instant, or by the bench's clock where that named no zone.
 */
export async function dueCalendar(id: number): Promise<string> {
  const { results, answer } = await ageingPlace(id);
  if (!answer || answer.due.length === 0)
    throw new Refusal('No measurement is due: every mount was measured at all its planned ages, or none are planned.');
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
