/** Limits that the page and the server must agree on. */

/** Messages of a list that are asked for by their numbers, in one request. */
export const MAX_LIST_IDS = 200;
/** Messages that one action can be applied to at once. */
export const MAX_SELECTED = 1000;
/** Events of the last hour that the page shows; of more, how many were left out is said. */
export const MAX_RECENT_EVENTS = 500;
/** Rows of a long list that are returned at once, where nothing else is asked for. */
export const ROWS_PER_PAGE = 60;
/** Events of a message that are loaded at a time. */
export const EVENTS_PER_PAGE = 100;
/** The last moment that a Date can hold (ECMAScript, section 21.4.1.1), in epoch milliseconds. */
export const MAX_DATE_MS = 8.64e15;
