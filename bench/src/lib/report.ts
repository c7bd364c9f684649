/** One line of the benchmark’s outcome. */
export function report(name: string, value: number, unit: string): void {
  const text = value >= 100 ? value.toFixed(0) : value.toPrecision(3);
  console.log(`${name} ${text} ${unit}`);
}

export function median(values: readonly number[]): number {
  return quantile(values, 0.5);
}

/** Nearest rank; `share` from 0 to 1. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
}
