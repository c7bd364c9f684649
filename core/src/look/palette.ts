export const LIGHTS = ['light', 'dark'] as const;
export type Light = (typeof LIGHTS)[number];

/** The colours of everything that is Kiraku: its pages, its viewer, and what it puts into mails. */
export interface Palette {
  paper: string;
  panel: string;
  band: string;
  line: string;
  /** Around what can be filled in or pressed. */
  edge: string;
  ink: string;
  softInk: string;
  /** Actions. */
  indigo: string;
  /** On what is filled with it. */
  onIndigo: string;
  /** Activity of this moment. */
  madder: string;
  /** Needs you. */
  ochre: string;
  /** Behind what needs you. */
  ochrePanel: string;
}

export const PALETTES: Readonly<Record<Light, Palette>> = {
  light: {
    paper: '#fbf9f4',
    panel: '#ffffff',
    band: '#f4efe5',
    line: '#e5e0d5',
    edge: '#c9c2b3',
    ink: '#1e2b37',
    softInk: '#55616d',
    indigo: '#2a4a7b',
    onIndigo: '#ffffff',
    madder: '#b3352c',
    ochre: '#8a5e0f',
    ochrePanel: '#fbf4e3',
  },
  dark: {
    paper: '#171d23',
    panel: '#1e262e',
    band: '#212a33',
    line: '#38434e',
    edge: '#5b6874',
    ink: '#eae6dc',
    softInk: '#aeb7bf',
    indigo: '#93b6e8',
    onIndigo: '#10161c',
    madder: '#f29388',
    ochre: '#e3b661',
    ochrePanel: '#2e281c',
  },
};

/** A palette as custom properties of CSS: `softInk` is `--soft-ink`. */
export function paletteProperties(light: Light): [name: string, colour: string][] {
  return Object.entries(PALETTES[light]).map(([name, colour]) => [
    `--${name.replace(/[A-Z]/g, (capital) => `-${capital.toLowerCase()}`)}`,
    colour,
  ]);
}

/** Both palettes as CSS that follows the reader’s system, for pages that no script need touch. */
export function paletteCss(): string {
  const rule = (light: Light) =>
    `:root{${paletteProperties(light)
      .map((pair) => pair.join(':'))
      .join(';')}}`;
  return `:root{color-scheme:light dark}${rule('light')}@media (prefers-color-scheme:dark){${rule('dark')}}`;
}
