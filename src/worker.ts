import { expose, proxy } from 'comlink';

/** Subjects of the web workers: all are built together, so that they share what they compute with. */
const SUBJECTS = {
  coolers: () => import('#features/results/view/coolers/coolers.worker'),
  imprint: () => import('#features/tools/view/imprint.worker'),
  plan: () => import('#features/study/view/plan/plan.worker'),
  preview: () => import('#features/run/view/import/preview.worker'),
  probes: () => import('#features/tools/view/probes.worker'),
  rehearsal: () => import('#features/study/view/plan/rehearsal.worker'),
  results: () => import('#features/results/view/results.worker'),
  spreadsheet: () => import('#features/run/view/import/spreadsheet.worker'),
  transient: () => import('#features/tools/view/transient.worker'),
  window: () => import('#features/run/view/window.worker'),
};

/** Entry of every web worker, which then serves one subject. */
const entry = {
  async open(subject: keyof typeof SUBJECTS) {
    return proxy((await SUBJECTS[subject]()).api);
  },
};
expose(entry);
