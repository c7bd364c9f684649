/** What the demo’s desk is unlocked with. */
export const DEMO_PASSPHRASE = 'felt and reed';
