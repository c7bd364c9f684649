/** How one signs in to the demo. */
export const DEMO_PASSPHRASE = 'felt and reed';

/** What another mail app sends with in the demo. */
export const DEMO_APP_PASSWORD = 'felt-and-reed';
