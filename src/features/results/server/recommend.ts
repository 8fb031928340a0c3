import { IsOptional, IsString } from 'class-validator';
import { database, transaction } from '#app/database/pool';
import { refuseUnseen } from '#app/seen';
import { OUTCOMES } from '#core/compare/outcomes';
import type { RestCheck } from '#features/results/model/recommendation';
import { holdRecommendations, listRecommendations, replaceRecommendations } from '#features/results/store/recommendations';
import { ListOf, OneOf, Text } from '#rules/rules';
import { check } from '#rules/validation';
import { type GatheredStudy, gatherStudy } from './studyResults';
import { resultsThreads } from './tasks';

export interface RecommendationView {
  reader: string;
  words: string;
  checks: RestCheck[];
}

class RestChoice {
  @OneOf(Object.keys(OUTCOMES), 'A recommendation rests on a verdict of a known outcome.')
  outcome!: string;

  @IsOptional()
  @IsString()
  load!: string | null;

  @IsString({ message: 'A verdict names two specimens.' })
  a!: string;

  @IsString({ message: 'A verdict names two specimens.' })
  b!: string;
}

class Recommendation {
  @Text(1, 80, 'Name the kind of reader a recommendation is for, in 1 to 80 characters.')
  reader!: string;

  @Text(1, 1000, 'A recommendation has 1 to 1,000 characters.')
  words!: string;

  @ListOf(() => RestChoice, 40, 'A recommendation rests on a list of up to 40 verdicts.')
  rests!: RestChoice[];
}

class Recommendations {
  @ListOf(() => Recommendation, 12, 'Recommendations are a list, for up to twelve kinds of readers.')
  list!: Recommendation[];
}

/** The words there are, with how the verdicts stand that they rest on. */
export async function recommendationsOf({
  study,
  facts,
  level,
}: Pick<GatheredStudy, 'study' | 'facts' | 'level'>): Promise<RecommendationView[]> {
  const list = await listRecommendations(database(), study.id);
  return Promise.all(
    list.map(async ({ reader, words, rests_on }) => ({
      ...{ reader, words },
      checks: await resultsThreads.checkRests({ facts, rests: rests_on, confidence: level.confidence }),
    })),
  );
}

/** The recommendations of a study, each with how its verdicts stand now. */
export const studyRecommendations = async (studyId: number): Promise<RecommendationView[]> => recommendationsOf(await gatherStudy(studyId));

const quoted = (list: { reader: string; words: string }[]): string =>
  list.length === 0 ? 'none' : list.map((r) => `“${r.reader}: ${r.words}”`).join('; ');

/** Stores the tester's own words per kind of reader, with the verdicts they rest on as these are now. */
export async function storeRecommendations(studyId: number, given: Record<string, unknown>): Promise<RecommendationView[]> {
  const { list } = check(Recommendations, given);
  const gathered = await gatherStudy(studyId);
  const { facts, level } = gathered;
  const stored = await Promise.all(
    list.map(async ({ reader, words, rests }) => ({
      ...{ reader: reader.trim(), words: words.trim() },
      rests_on: await resultsThreads.restsNow({ facts, rests, confidence: level.confidence }),
    })),
  );
  await transaction(async (client) => {
    await holdRecommendations(client, studyId);
    const theirs = (await listRecommendations(client, studyId)).map(({ reader, words }) => ({ reader, words }));
    refuseUnseen(given, theirs, `Somebody else changed the recommendations meanwhile; they read now: ${quoted(theirs)}.`);
    await replaceRecommendations(client, studyId, stored);
  });
  return recommendationsOf(gathered);
}
