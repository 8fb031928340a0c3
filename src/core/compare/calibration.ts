/** Error rates measured by `npm run calibrate`, which writes this file; docs/calibration.md has the whole table. */
export const CALIBRATION = {
  added_mounts: { nominal: 0.05, until_settled: 0.187 },
  pooled_unequal: { all: 0.073, firm: 0.019 },
  separate_many: { all: 0.068, firm: 0.019 },
};
