import type { CheckName, Finding } from '@kiraku/core/contract';

/** What finds out how something stands; it may reject where that cannot be found out. */
export type Check = (signal: AbortSignal) => Finding | Promise<Finding>;

/** The checks of one field, by their names. */
export type Checks = { readonly [Name in CheckName]?: Check };
