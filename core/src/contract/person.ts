/** Somebody who was written to. */
export interface PersonView {
  id: number;
  name: string;
  address: string;
  firm: string;
  /** How many messages went to them: suggestions come most written-to first. */
  messages: number;
  /** They are written to without tracking. */
  doNotTrack: boolean;
}
