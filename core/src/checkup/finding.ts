import type { DnsRecord, Finding } from '../contract/index.js';

const of =
  (state: Finding['state']) =>
  (detail: string, advice: string | null = null, records: DnsRecord[] = []): Finding => ({
    state,
    detail,
    advice,
    records,
  });

/** It works. */
export const fine = (detail: string): Finding => of('ok')(detail);
/** It works, and something should be done about it. */
export const attention = of('attention');
/** It does not work. */
export const failing = of('failing');
/** It could not be checked. */
export const notKnown = of('unknown');
/** It is not in use. */
export const notInUse = of('off');
