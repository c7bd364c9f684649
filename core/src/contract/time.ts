export const CLOCKS = ['24h', '12h'] as const;
/** “09:40” or “9:40 AM”. */
export type Clock = (typeof CLOCKS)[number];

export const DATE_ORDERS = ['day-month', 'month-day', 'year-month-day'] as const;
/** “2 Nov 2026”, “Nov 2, 2026” or “2026-11-02”. */
export type DateOrder = (typeof DATE_ORDERS)[number];

export const FIRST_DAYS = [1, 0, 6] as const;
/** With which day a week begins: 0 is Sunday, 1 Monday, 6 Saturday. */
export type FirstDay = (typeof FIRST_DAYS)[number];

/** How the user reads times and dates. */
export interface TimeFormat {
  clock: Clock;
  dateOrder: DateOrder;
  firstDay: FirstDay;
}

/** The format in use, and whether the user chose it; else it is that of the browser that was used last. */
export interface TimeFormatView extends TimeFormat {
  isChosen: boolean;
}
