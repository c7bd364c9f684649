/** By whose clocks everything here is read and shown: those of this browser (IANA). */
export const MY_ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;
