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
  {
    name: 'Ranking over set-ups',
    formula:
      'mean = set-up + material + u + e, u ~ N(0, τ²); τ² by REML, Knapp and Hartung with a factor of at least 1, t on rows − parameters',
    when: 'All studies of materials together: area-scaled resistance r = R·A, only differences within a set-up count. One row a set-up and material; its variance by the material’s own mounts there, else those of the set-up, else the lab’s of that kind.',
    source: 'Viechtbauer 2005; Knapp and Hartung 2003; Rücker 2012',
  },
  {
    name: 'Prediction for another set-up',
    formula: 'difference ~ N(b(τ²), se²(τ²) + 2τ²), τ² where the generalised Q equals a draw of χ²; 2.5 and 97.5 % of 10,000 draws',
    when: 'What a set-up that nobody measured would show, and on a part ΔT = P·Δr/A. Refused beyond a factor of three of the areas and pressures measured; hardly anything can be said below three set-ups.',
    source: 'Nagashima, Noma and Furukawa 2019',
  },
  {
    name: 'A set-up against the others',
    formula:
      't = (direct − others)/√(v + v₀ + se² + 2τ²), the set-up left out and the rest fitted anew; p adjusted by Holm over its materials',
    when: 'Finds a set-up that disagrees: check pressure, lot, conditioning and runs that throttled.',
    source: 'Dias, Welton, Caldwell and Ades 2010',
  },
  {
    name: 'Repeatability and reproducibility',
    formula: 's_R² = s_L² + s_r²; s_L² by Paule and Mandel; h and k as consistency of a lab',
    when: 'How well labs agree on a material that two or more of them measured against the same reference. With two or three labs s_L is rough.',
    source: 'ISO 5725-2:2019; Paule and Mandel 1982',
  },
  {
    name: 'Drift of a material',
    formula:
      'line through the means of occasions (mounts within 30 days of the first), each set-up with a level of its own; t on occasions − set-ups − 1',
    when: 'How a material changes over the years. What moves a whole set-up moves it too. It takes three occasions on one set-up, or two on each of two.',
    source: 'Searle, Casella and McCulloch 1992',
  },
  {
    name: 'Steps of the reference',
    formula:
      'the stretch whose mean differs most, one in a hundred shuffled orders as sharp; a mount outside 2.66 mean moving ranges and outside t at 1 %',
    when: 'Whether the bench still reads as it did. An even drift can show as a step.',
    source: 'Olshen, Venkatraman, Lucito and Wigler 2004; NIST/SEMATECH e-Handbook §6.3.2.2',
  },
];
