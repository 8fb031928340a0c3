/** What a cooler lies on. */
export const CONTACTS = { lid: 'Lid', die: 'Bare die', dies: 'Several dies', row: 'Row of parts' } as const;
export type Contact = keyof typeof CONTACTS;
