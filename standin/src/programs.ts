/** A program in which a recipient reads mail, or a machine that looks at it. */
export interface ReadingProgram {
  id: string;
  label: string;
  /** What it says of itself when it fetches an image. */
  userAgent: string;
  /** What the browser says that it opens links in. */
  browserAgent: string;
  loadsImages: boolean;
  /** It loads every image and follows every link by itself as soon as the mail is opened. */
  followsAll?: boolean;
  /** Where its images are fetched from, where that is not the recipient’s own network. */
  network?: string;
  /** Where its links are opened from, where that is not the recipient’s own network. */
  browserNetwork?: string;
}

const LAPTOP_BROWSER = 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:142.0) Gecko/20100101 Firefox/142.0';
const LINUX_MAIL = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Thunderbird/140.2.0';
const PHONE_MAIL =
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Mobile/15E148';
const PHONE_BROWSER = `${PHONE_MAIL.replace('Mobile/15E148', 'Version/18.6 Mobile/15E148')} Safari/604.1`;
const OLD_BROWSER = 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:115.0) Gecko/20100101 Firefox/115.0';
const NOTEBOOK_BROWSER =
  'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Safari/605.1.15';
/** From which network the sender of the demo writes (RFC 5737). */
export const SENDER_ADDRESS = '192.0.2.200';
const TABLET_BROWSER =
  'Mozilla/5.0 (Linux; Android 15; SM-X710) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';

export const PROGRAMS: readonly [ReadingProgram, ...ReadingProgram[]] = [
  {
    id: 'laptop',
    label: 'Web mail on a laptop',
    userAgent: LAPTOP_BROWSER,
    browserAgent: LAPTOP_BROWSER,
    loadsImages: true,
  },
  {
    id: 'desktop',
    label: 'Mail app on a desktop',
    userAgent: LINUX_MAIL,
    browserAgent: LAPTOP_BROWSER,
    loadsImages: true,
  },
  { id: 'phone', label: 'Phone', userAgent: PHONE_MAIL, browserAgent: PHONE_BROWSER, loadsImages: true },
  { id: 'tablet', label: 'Tablet', userAgent: TABLET_BROWSER, browserAgent: TABLET_BROWSER, loadsImages: true },
  {
    id: 'blocked',
    label: 'Mail app with images blocked',
    userAgent: LINUX_MAIL,
    browserAgent: LAPTOP_BROWSER,
    loadsImages: false,
  },
  {
    id: 'text',
    label: 'Text only',
    userAgent: '',
    browserAgent: 'Lynx/2.9.0 libwww-FM/2.14',
    loadsImages: false,
  },
  {
    id: 'cache',
    label: 'Web mail whose host loads images when it is opened',
    userAgent: 'Mozilla/5.0 (Windows NT 5.1; rv:11.0) Gecko Firefox/11.0 (via ggpht.com GoogleImageProxy)',
    browserAgent: LAPTOP_BROWSER,
    loadsImages: true,
    network: '203.0.113.16',
  },
  {
    id: 'relay',
    label: 'Machine: a host that loads images in advance',
    userAgent: 'Mozilla/5.0',
    browserAgent: PHONE_BROWSER,
    loadsImages: true,
    network: '203.0.113.32',
  },
  {
    id: 'scanner',
    label: 'Machine: a filter that follows every link',
    userAgent: OLD_BROWSER,
    browserAgent: OLD_BROWSER,
    loadsImages: false,
    followsAll: true,
    network: '203.0.113.48',
    browserNetwork: '203.0.113.48',
  },
  {
    id: 'friend',
    label: 'A friend it was passed on to',
    userAgent: NOTEBOOK_BROWSER,
    browserAgent: NOTEBOOK_BROWSER,
    loadsImages: true,
    network: '203.0.113.64',
    browserNetwork: '203.0.113.64',
  },
  {
    id: 'sender',
    label: 'The sender, opening their own message',
    userAgent: NOTEBOOK_BROWSER,
    browserAgent: NOTEBOOK_BROWSER,
    loadsImages: true,
    network: SENDER_ADDRESS,
    browserNetwork: SENDER_ADDRESS,
  },
];

/** Those in which recipients read for themselves. */
export const READERS_PROGRAMS = PROGRAMS.filter(({ network }) => network === undefined);

export function programOf(id: unknown): ReadingProgram {
  return PROGRAMS.find((program) => program.id === id) ?? PROGRAMS[0];
}

/** The address that stands for a recipient’s own network: the same for a mailbox each time (RFC 5737). */
export function networkOfMailbox(address: string): string {
  let sum = 0;
  for (const character of address) sum = (sum * 31 + character.codePointAt(0)!) % 250;
  return `198.51.100.${sum + 1}`;
}
