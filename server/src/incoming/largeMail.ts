/** Of a larger mail the beginning is read: what was written stands there, before its files. */
export const MAX_MAIL_BYTES = 50 * 1024 * 1024;
export const BEGINNING_BYTES = 4 * 1024 * 1024;
