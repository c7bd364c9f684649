/**
 * The fields of a form that differ from what they were: what another window has saved meanwhile in the others stays.
 *
 * @param before values by the form’s own fields, and perhaps more
 */
export function changedOf<T extends object>(fields: T, before: T): Partial<T> {
  const isSame = (field: keyof T) => JSON.stringify(fields[field]) === JSON.stringify(before[field]);
  return Object.fromEntries(Object.entries(fields).filter(([field]) => !isSame(field as keyof T))) as Partial<T>;
}
