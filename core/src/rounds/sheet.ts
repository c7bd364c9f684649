import { ROUND_LIMITS, type RoundRecipients } from '../contract/round.js';
import { addressKey, addressProblem } from '../message/address.js';

/** Which column of a sheet holds the address, and which the name; −1 where none does. */
export interface RoundColumns {
  address: number;
  name: number;
}

/** A sheet as a round would take it. */
export interface RoundSheet extends RoundRecipients {
  /** Rows that would be left out, as a spreadsheet numbers them, and why. */
  problems: { row: number; problem: string }[];
}

/** What stands between {{ and }} cannot hold these. */
const NOT_IN_NAMES = /[{}|:]/g;
const MAX_COLUMN_CHARS = 60;

/**
 * Reads a sheet for a round: each row is somebody, and every column besides name and address a placeholder.
 *
 * @param rows with the names of the columns first
 */
export function roundSheet([heads = [], ...rows]: readonly string[][], { address, name }: RoundColumns): RoundSheet {
  const others = heads.map((_, index) => index).filter((index) => index !== address && index !== name);
  const kept = others.filter((index) => columnName(heads[index]!) !== '').slice(0, ROUND_LIMITS.maxColumns);
  const sheet: RoundSheet = { columns: kept.map((index) => columnName(heads[index]!)), recipients: [], problems: [] };
  const seen = new Set<string>();
  rows.forEach((cells, index) => {
    if (cells.every((cell) => cell.trim() === '')) return;
    const recipient = {
      name: cellOf(cells, name),
      address: cellOf(cells, address),
      cells: kept.map((column) => cellOf(cells, column)),
    };
    const problem = problemOf(recipient.address, seen, sheet.recipients.length);
    // The first row of a sheet is that of the names.
    if (problem !== null) sheet.problems.push({ row: index + 2, problem });
    else sheet.recipients.push(recipient);
  });
  return sheet;
}

function problemOf(address: string, seen: Set<string>, taken: number): string | null {
  if (address === '') return 'There is no address.';
  const problem = addressProblem(address);
  if (problem !== null) return problem;
  if (seen.has(addressKey(address))) return 'This address stands above already.';
  seen.add(addressKey(address));
  return taken < ROUND_LIMITS.maxPeople ? null : `A round goes to at most ${ROUND_LIMITS.maxPeople} people.`;
}

function columnName(head: string): string {
  return head.replace(NOT_IN_NAMES, ' ').replace(/\s+/g, ' ').trim().slice(0, MAX_COLUMN_CHARS);
}

function cellOf(cells: readonly string[], column: number): string {
  return (cells[column] ?? '').trim().slice(0, ROUND_LIMITS.maxCellChars);
}
