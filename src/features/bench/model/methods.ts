/** A method of the comparison or the reduction: what is computed, where it is from, and when it is the right one. */
export interface Method {
  name: string;
  formula: string;
  when: string;
  source: string;
}

/** The methods behind the figures, as the help tells them. */
export const METHODS: Method[] = [
  {
    name: 'Averaging window with a slope test',
    formula:
      'value = mean of (T − T_room) over the last 120 s, once |slope| + t(0.95)·SE ≤ 0.2 K/min, with the SE of least squares times √(n/n_eff) for autocorrelation',
    when: 'The default for every run; a run that is never steady has no value.',
    source: 'Least squares with effective sample size, method §2',
  },
  {
    name: 'Fitted end value',
    formula: 'θ(t) = θ_end − Σ a_i·exp(−t/τ_i) over the whole sustained load, one or two terms by AICc',
    when: 'Where the load cannot be held until it is steady; shown next to the window mean.',
    source: 'Golub and Pereyra 1973; Burnham and Anderson 2002',
  },
  {
    name: 'Pooled scatter',
    formula: 'SE² = s²·(1/n_a + 1/n_b), s² = Σ(n_i − 1)·s_i² / Σ(n_i − 1); pairs by Tukey and Kramer',
    when: 'Two or three mounts of each that scatter equally.',
    source: 'Tukey 1953; Kramer 1956',
  },
  {
    name: 'Separate scatter',
    formula: 'SE² = s_a²/n_a + s_b²/n_b with Welch–Satterthwaite degrees of freedom; pairs by Games and Howell',
    when: 'Four mounts or more, or unequal scatter.',
    source: 'Welch 1947; Games and Howell 1976',
  },
  {
    name: 'Separate scatter, strict',
    formula: 'as separate, with the limits of Dunnett’s T3 (studentised maximum modulus)',
    when: 'Many compared with few mounts, where separate scatter gives too many false calls.',
    source: 'Dunnett 1980',
  },
  {
    name: 'Equivalence',
    formula: 'equivalent where the whole simultaneous interval lies within ±margin',
    when: 'To say that a difference does not matter; a difference that happens to be small is not enough.',
    source: 'Schuirmann 1987',
  },
  {
    name: 'Groups by letters',
    formula: 'maximal sets of items of which no pair differs, each with a letter',
    when: 'To read a table of many pairs.',
    source: 'Piepho 2004',
  },
  {
    name: 'Adjusting for days, rigs or devices',
    formula: 'y = item + block + error, by least squares; pairs within blocks',
    when: 'Where shifts between days or rigs are large and every item meets every block.',
    source: 'Linear model, QR',
  },
  {
    name: 'Power and mounts',
    formula: 'smallest d with P(|t_df(d/SE)| > t_crit) ≥ power, noncentral t, Bonferroni over the pairs',
    when: 'Before a study, to choose the number of mounts.',
    source: 'Cohen 1988',
  },
  {
    name: 'Interim analyses',
    formula: 'error spent at the fraction t: α(t) = 4·(1 − Φ(z(1 − α/4)/√t)); limits by integrating from analysis to analysis',
    when: 'To stop early without more false calls.',
    source: 'O’Brien and Fleming 1979; Lan and DeMets 1983',
  },
  {
    name: 'Time to an event and censored mounts',
    formula: 'log-rank statistic over all mounts, exact by permutation where they are few',
    when: 'Throttled mounts, or events that some never reach.',
    source: 'Mantel 1966',
  },
  {
    name: 'Uncertainty budget',
    formula: 'U = k·√(Σ u_i²), k from Welch–Satterthwaite',
    when: 'For absolute values; in differences on one rig the errors of instruments cancel.',
    source: 'JCGM 100:2008',
  },
  {
    name: 'Ageing',
    formula: 'ΔT = constant, linear, √t or exponential approach, chosen by AICc, estimated within mounts; the mean over mounts by REML',
    when: 'Mounts that were measured at three ages or more; what fits no course gets no rate, only the change from first to last age.',
    source: 'Burnham and Anderson 2002; Knapp and Hartung 2003',
  },
  {
    name: 'Equal noise',
    formula: 'ΔT = a + b/rpm^c and level = d + e·lg rpm for each cooler; compared at one level',
    when: 'Coolers and fans.',
    source: 'Method §6',
  },
];
