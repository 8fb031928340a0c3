import type { OutcomeKey } from '#core/compare/outcomes';
import { CHOICES_MARK, type TableChoices } from '#core/compare/runTable';
import { csvText } from '#core/text/csv';
import { optionsFor, rowsFor } from '#features/results/model/choice';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';

/** The runs of a study with all that their verdicts rest on: bounds of throttled runs, loads, rigs, and the choices in a comment line. */
export function valuesTable(facts: StudyFacts, choice: ResultsChoice, confidence: number): string {
  const choicesFor = (outcome: Extract<OutcomeKey, 'rise' | 'r_k_per_w'>): TableChoices => {
    const { outcome: _, chances: __, ...options } = optionsFor(facts, { ...choice, outcome }, confidence);
    return { ...options, load: choice.load };
  };
  const rows = rowsFor(facts, { ...choice, load: null }).map((row, i) => {
    const r = facts.runs[i];
    return {
      ...{ specimen: r.specimen, mount: r.mount, run: r.run, day: r.day ?? '', rig: r.rig, device: r.rig, load: r.load ?? '' },
      ...{ value: row.censored ? '' : (r.values.rise ?? ''), at_least: row.censored ? (r.values.rise ?? '') : '' },
      ...{
        valid: row.valid,
        excluded: row.excluded,
        reason: row.reason ?? '',
        r_k_per_w: r.values.r_k_per_w ?? '',
        r_valid: r.r_valid && r.values.r_k_per_w !== undefined,
      },
    };
  });
  const columns = 'specimen,mount,run,day,rig,device,load,value,at_least,valid,excluded,reason,r_k_per_w,r_valid'.split(',');
  const choices = JSON.stringify({ rise: choicesFor('rise'), r_k_per_w: choicesFor('r_k_per_w') });
  return `${CHOICES_MARK}${choices}\n${csvText([columns, ...rows.map((r) => Object.values(r))])}`;
}
