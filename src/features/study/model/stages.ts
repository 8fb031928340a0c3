/** What a step of a load is for. */
export const STAGES = { idle: 'Idle', warm_up: 'Warm-up', load: 'Load', cool_down: 'Cool-down' } as const;
/** Key of a stage. */
export type Stage = keyof typeof STAGES;
