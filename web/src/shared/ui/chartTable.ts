/** What a chart shows, as a table. */
export interface ChartTable {
  columns: readonly string[];
  rows: readonly (readonly ChartCell[])[];
}

interface ChartCell {
  value: string | number;
  /** As it is read, where that differs from what is exported. */
  words?: string;
  /** Where the messages behind a number are. */
  to?: string;
}
