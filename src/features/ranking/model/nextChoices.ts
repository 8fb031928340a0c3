import { inRankOrder } from '#core/ranking/groups';
import { type NextStudy, nextStudies, openPairs, type PossibleSetup } from '#core/ranking/nextStudy';
import { rankMaterials } from '#core/ranking/rankMaterials';
import type { RankingQuestion } from './rankingAnswer';

/** What may be measured next, and with how much time. */
export interface NextQuestion {
  question: RankingQuestion;
  /** materials to choose from; empty: those that the ranking leaves open */
  candidates: string[];
  setups: PossibleSetup[];
  mounts: number;
  hours: number;
  hours_per_mount: number;
}

const MOST_WANTED = 12;

/** Materials that are worth measuring next where nobody chose: those not told apart in the leading group, else the neighbours at the top. */
export function worthMeasuring(ranking: ReturnType<typeof rankMaterials>): { pairs: [string, string][]; isOpen: boolean } {
  const open = openPairs(ranking).slice(0, MOST_WANTED);
  if (open.length > 0) return { pairs: open, isOpen: true };
  const top = inRankOrder(ranking).slice(0, 5);
  return { pairs: top.slice(1).map((m, i): [string, string] => [top[i], m]), isOpen: false };
}

/** The studies that gain most for the time at hand, the best three. */
export function answerNext({ question, candidates, ...asked }: NextQuestion): NextStudy[] {
  const ranking = rankMaterials(question.rows, question.reference);
  const isRanked = (m: string) => ranking.design.materials.includes(m);
  const chosen = candidates.filter(isRanked);
  const pairs: [string, string][] =
    chosen.length >= 2 ? chosen.flatMap((a, i) => chosen.slice(i + 1).map((b): [string, string] => [a, b])) : worthMeasuring(ranking).pairs;
  const named = candidates.length > 0 ? candidates : [...new Set([...pairs.flat(), question.reference])];
  return nextStudies({ ranking, pairs, candidates: named, ...asked });
}
