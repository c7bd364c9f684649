/** By whose clocks everything here is read and shown. */
export const MY_ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;
