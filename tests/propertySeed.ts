import fc from 'fast-check';

// properties are checked on the same cases at every run, so that a change is judged by what it changes; FC_SEED draws others
fc.configureGlobal({ seed: Number(process.env.FC_SEED ?? 20261126) });
