import { greatest, group } from 'd3-array';
import { networkOf } from '@kiraku/core/tracking';

/**
 * Who gives way where there are too many: of those who come over the network with the most of them, the one who came first.
 * So whoever opens one connection after the other is in nobody’s way but their own.
 *
 * @param waiting in the order in which they came
 * @returns undefined as long as there are no more than `limit`
 */
export function givesWay<T>(waiting: readonly T[], limit: number, addressOf: (one: T) => string): T | undefined {
  if (waiting.length <= limit) return undefined;
  const byNetwork = group(waiting, (one) => networkOf(addressOf(one)));
  return greatest(byNetwork.values(), ({ length }) => length)?.[0];
}
