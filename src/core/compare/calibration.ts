/** Error rates measured by `npm run calibrate`, which writes this file; docs/calibration.md has the whole table. */
export const CALIBRATION = {
  added_mounts: { nominal: 0.0493, until_settled: 0.1575 },
  pooled_equal: { all: 0.0478, firm: 0.0191 },
  pooled_unequal: { all: 0.0733, firm: 0.0135 },
  separate_ten: { all: 0.0518, firm: 0.0232 },
  separate_five: { all: 0.0597, firm: 0.0197 },
  separate_many: { all: 0.0688, firm: 0.0132 },
  /** the largest share of studies with a false call by the strict school where it is the default */
  strict_most: 0.0502,
  /** the largest share with a false call by the default school, mounts added after a look apart */
  default_most: 0.0518,
  /** the largest share of studies with a firm false call, mounts added after a look apart */
  firm_most: 0.0466,
};
