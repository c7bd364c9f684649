import type { ReadingReport, Visit } from '@kiraku/core/contract';
import { FILE_LIMITS } from '@kiraku/core/files';
import { jsonShapeProblem } from '../http/jsonShape.js';

/** Reads a report of what was read; null for anything else. What is in it is weighed by `accepted`. */
export function readReport(text: string): ReadingReport | null {
  const value = parsed(text);
  if (!isRecord(value) || typeof value['reading'] !== 'string' || !Array.isArray(value['visits'])) return null;
  const { reading, visits, active } = value;
  if (reading.length > 100 || visits.length > FILE_LIMITS.maxVisitsPerReport || !visits.every(isVisit)) return null;
  return {
    reading,
    active: active === true,
    visits: visits.map(({ visit, page, ms }) => ({ visit, page, ms: Math.round(ms) })),
  };
}

function parsed(text: string): unknown {
  if (jsonShapeProblem(Buffer.from(text)) !== null) return null;
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

function isVisit(value: unknown): value is Visit {
  return isRecord(value) && ['visit', 'page', 'ms'].every((name) => Number.isFinite(value[name]));
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null;
}
