/** A term of the trade, explained once: what stands behind the ⓘ, and in the help. */
export interface Term {
  name: string;
  /** one line, as it opens where the term stands */
  line: string;
  /** what more there is to know, in the help */
  more: string;
  /** where it is computed from */
  source?: string;
}

export const GLOSSARY = {
  rise: {
    name: 'ΔT over ambient',
    line: 'Temperature above the room air measured at the same moment.',
    more: 'The room is subtracted sample by sample, so that a warmer day does not make a material look worse. Probes of one place are averaged; a probe that is dead, frozen or in the warmed air needs your decision.',
  },
  window: {
    name: 'averaging window',
    line: 'The last stretch of the load over which a run is averaged, once a slope test finds it steady.',
    more: 'By default 120 s. The slope and its uncertainty have to stay within 0.2 K/min; a run that never becomes steady gives no value. The window can be moved by hand; the automatic value stays visible.',
  },
  mount: {
    name: 'mount',
    line: 'One application and assembly: the unit that is repeated.',
    more: 'A cooler that is lifted and put back is another mount. Runs on one mount say how well the instrument repeats, never how well the material does: only mounts count in intervals.',
  },
  method: {
    name: 'method of scatter',
    line: 'How the scatter between mounts enters the intervals.',
    more: 'Pooled takes one scatter for all specimens, separate takes each its own (Welch, Games–Howell), strict takes each its own with wider limits (Dunnett T3). By default the one whose false-alarm rate stayed near 5 % for the design, by simulation.',
    source: 'Welch 1947; Games and Howell 1976; Dunnett 1980',
  },
  firm: {
    name: 'firm',
    line: 'Every method gives the same verdict.',
    more: 'A verdict that depends on the method changes with how scatter is taken; more mounts would settle it. Firm verdicts were false in fewer than 5 % of simulated studies.',
  },
  different: {
    name: 'different, not distinguishable',
    line: 'The interval of the difference excludes, or includes, zero.',
    more: 'Not distinguishable does not mean equal: it means that the mounts so far cannot show a difference. Equal enough is a verdict of its own, see equivalent.',
  },
  equivalent: {
    name: 'equivalent within ±1 K',
    line: 'The whole interval of the difference lies inside the smallest difference that matters.',
    more: 'It is judged by the interval, never by a difference that happens to be small. With few mounts nothing can be called equivalent.',
    source: 'Schuirmann 1987',
  },
  margin: {
    name: 'smallest difference that matters',
    line: 'Below this, a reader would not care.',
    more: 'It is set before the data are seen. A difference can be real and still be less than matters; the verdict says both.',
  },
  group: {
    name: 'group',
    line: 'Items that share a letter are not distinguishable.',
    more: 'The letters follow from all pairs together. Two items may share a letter with a third and none with each other.',
    source: 'Piepho 2004',
  },
  adjust: {
    name: 'adjust for',
    line: 'Removes shifts shared by everything measured that day, on that rig or in that device.',
    more: 'It helps where every specimen meets every day, rig or device, and costs some certainty where it does not. What cannot be separated is said to be confounded.',
  },
  interim: {
    name: 'interim analyses',
    line: 'Planned checks that keep the error rate although you look early.',
    more: 'Looking whenever one likes and stopping at a good moment makes false verdicts common. A planned look has a stricter limit, and the last look almost the usual one.',
    source: 'O’Brien and Fleming 1979; Lan and DeMets 1983',
  },
  power: {
    name: 'power',
    line: 'Chance that a real difference of this size is found.',
    more: 'With 80 % power one study in five misses the difference it was planned for.',
  },
  detectable: {
    name: 'detectable difference',
    line: 'The smallest real difference that so many mounts find with the stated power.',
    more: 'It falls with the square root of the mounts: four times as many halve it.',
  },
  interval: {
    name: '95 % interval',
    line: 'Where the true value lies in 95 of 100 studies made like this one.',
    more: 'Intervals of pairs are wider than those of single means, as they hold for all pairs together.',
  },
  throttled: {
    name: 'throttled',
    line: 'The device slowed itself down: its temperature is a lower bound only.',
    more: 'A throttled run is left out of the means of ΔT. Compare clock, power, score and resistance instead.',
  },
  imprint: {
    name: 'imprint',
    line: 'What the material looks like after the cooler comes off.',
    more: 'Its coverage, voids and thin corners are measured from a photograph of both faces.',
  },
  prediction_interval: {
    name: 'prediction interval',
    line: 'Where the difference would lie in 95 of 100 set-ups that are not measured yet.',
    more: 'It is wider than the 95 % interval of the mean, as a lead itself differs from set-up to set-up. With two set-ups or fewer nearly nothing can be predicted.',
    source: 'Nagashima, Noma and Furukawa 2019',
  },
  setup: {
    name: 'set-up',
    line: 'Rig, part, cooler, load and pressure: everything but the material is the same in it.',
    more: 'Only differences within a set-up count in the ranking. A change of one of them is another set-up; you can merge or split what was recognised, with a reason.',
  },
  tau: {
    name: 'τ',
    line: 'How much a material’s lead itself differs from set-up to set-up, as a standard deviation.',
    more: 'Estimated by restricted maximum likelihood. Zero means that the mounts’ scatter explains all differences between set-ups.',
    source: 'Viechtbauer 2005',
  },
} as const satisfies Record<string, Term>;

export type TermKey = keyof typeof GLOSSARY;
