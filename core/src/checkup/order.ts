import { ascending } from 'd3-array';
import { CHECK_NAMES, type CheckState, type CheckView } from '../contract/index.js';

/** What asks for something first; the others in the order of their names. */
const ASKING: readonly CheckState[] = ['failing', 'attention'];

/** The checks as they are shown: what does not work, what needs attention, and all others. */
export function worstFirst(checks: readonly CheckView[]): CheckView[] {
  const rank = ({ state }: CheckView) => (ASKING.includes(state) ? ASKING.indexOf(state) : ASKING.length);
  const place = ({ name }: CheckView) => CHECK_NAMES.indexOf(name);
  return [...checks].sort((a, b) => ascending(rank(a), rank(b)) || ascending(place(a), place(b)));
}
