/** Slow clients do not hold a connection for long, and what they send is bounded. */
export const TIMES_AND_SIZES = {
  maxHeaderSize: 16_384,
  headersTimeout: 10_000,
  // The whole request, its body included: what is taken here is a few kilobytes.
  requestTimeout: 10_000,
  connectionsCheckingInterval: 2000,
};
