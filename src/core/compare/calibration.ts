/** Error rates measured by `npm run calibrate`, which writes this file; docs/calibration.md has the whole table. */
export const CALIBRATION = {
  added_mounts: { nominal: 0.0493, until_settled: 0.1787 },
  pooled_equal: { all: 0.0478, firm: 0.025 },
  pooled_unequal: { all: 0.0772, firm: 0.0249 },
  separate_ten: { all: 0.0504, firm: 0.0273 },
  separate_five: { all: 0.0572, firm: 0.0267 },
  separate_many: { all: 0.0704, firm: 0.0215 },
  /** the largest share of studies with a firm false call, mounts added after a look apart */
  firm_most: 0.0418,
};
