import { theme, type ThemeConfig } from 'antd';
import type { Light } from '../shared/store/lightSlice.js';

/** The palette in its two lights. Pages use no colour that is not here. */
interface Palette {
  paper: string;
  panel: string;
  band: string;
  line: string;
  ink: string;
  softInk: string;
  /** Actions. */
  indigo: string;
  /** Happening now. */
  madder: string;
  /** Needs you. */
  ochre: string;
  /** Behind what needs you. */
  ochrePanel: string;
}

const PALETTES: Record<Light, Palette> = {
  light: {
    paper: '#FBF9F4',
    panel: '#FFFFFF',
    band: '#F4EFE5',
    line: '#E5E0D5',
    ink: '#1E2B37',
    softInk: '#55616D',
    indigo: '#2A4A7B',
    madder: '#B3352C',
    ochre: '#8A5E0F',
    ochrePanel: '#FBF4E3',
  },
  dark: {
    paper: '#171D23',
    panel: '#1E262E',
    band: '#212A33',
    line: '#38434E',
    ink: '#EAE6DC',
    softInk: '#AEB7BF',
    indigo: '#93B6E8',
    madder: '#F29388',
    ochre: '#E3B661',
    ochrePanel: '#2E281C',
  },
};

const TEXT_FONT = "'Zen Kaku Gothic New', 'Helvetica Neue', Arial, sans-serif";

export function themeFor(light: Light): ThemeConfig {
  const palette = PALETTES[light];
  return {
    algorithm: light === 'dark' ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      fontFamily: TEXT_FONT,
      fontSize: 14,
      borderRadius: 3,
      wireframe: false,
      colorPrimary: palette.indigo,
      colorInfo: palette.indigo,
      colorLink: palette.indigo,
      // The derived shades would be too pale to read.
      colorLinkHover: palette.ink,
      colorLinkActive: palette.ink,
      colorError: palette.madder,
      colorWarning: palette.ochre,
      colorWarningBg: palette.ochrePanel,
      colorWarningBorder: palette.line,
      colorInfoBg: palette.band,
      colorInfoBorder: palette.line,
      colorErrorBg: palette.ochrePanel,
      colorErrorBorder: palette.line,
      colorText: palette.ink,
      colorTextHeading: palette.ink,
      colorTextSecondary: palette.softInk,
      colorTextTertiary: palette.softInk,
      colorTextDescription: palette.softInk,
      colorTextPlaceholder: palette.softInk,
      colorBgLayout: palette.paper,
      colorBgContainer: palette.panel,
      colorBgElevated: palette.panel,
      colorBorder: light === 'dark' ? '#5B6874' : '#C9C2B3',
      colorBorderSecondary: palette.line,
      boxShadow: 'none',
      boxShadowSecondary: `0 0 0 1px ${palette.line}`,
      motionDurationMid: '0.12s',
      motionDurationSlow: '0.16s',
    },
    components: {
      Dropdown: {
        controlItemBgActive: palette.band,
        controlItemBgActiveHover: palette.band,
        controlItemBgHover: palette.band,
      },
      Button: { primaryShadow: 'none', defaultShadow: 'none', ...(light === 'dark' && { primaryColor: '#10161C' }) },
    },
  };
}

/** The same palette for our own style sheets, as custom properties of the document. */
export function applyPalette(light: Light, root: HTMLElement): void {
  for (const [name, colour] of Object.entries(PALETTES[light])) {
    root.style.setProperty(`--${name.replace(/[A-Z]/g, (message) => `-${message.toLowerCase()}`)}`, colour);
  }
  root.style.setProperty('color-scheme', light);
}
