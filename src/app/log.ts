import pino from 'pino';

/** The server's own log, on standard error so that standard output stays for the address. */
export const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' }, pino.destination(2));
