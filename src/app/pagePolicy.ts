import { SECURITY_HEADERS } from './headers';

/** Hashes of the scripts that the framework writes into a page, by `astro.config.mjs`. */
declare const FRAME_SCRIPTS: string;

/**
 * What a page may do: besides files of ours, only the scripts by which the framework wakes its parts may run, known by their hashes (Content
 * Security Policy Level 3, 2.3.1); what somebody smuggled into a text may not.
 */
export const PAGE_POLICY = SECURITY_HEADERS['content-security-policy'].replace("script-src 'self'", `script-src 'self' ${FRAME_SCRIPTS}`);
