import { theme, type ThemeConfig } from 'antd';
import { PALETTES, paletteProperties, type Light } from '@kiraku/core/look';

const TEXT_FONT = "'Zen Kaku Gothic New', 'Helvetica Neue', Arial, sans-serif";

const FINGER_PX = 44;

/** @param isPhone with controls as high as a finger needs (WCAG 2.2, 2.5.5) */
export function themeFor(light: Light, isPhone: boolean): ThemeConfig {
  const palette = PALETTES[light];
  return {
    algorithm: light === 'dark' ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      fontFamily: TEXT_FONT,
      fontSize: 15,
      borderRadius: 3,
      ...(isPhone && { controlHeight: FINGER_PX, controlHeightSM: FINGER_PX, controlHeightLG: FINGER_PX + 4 }),
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
      colorBorder: palette.edge,
      colorBorderSecondary: palette.line,
      boxShadow: 'none',
      boxShadowSecondary: `0 0 0 1px ${palette.line}`,
      // What opens is where it stays: a menu that still moves is pressed beside what was meant.
      motion: false,
    },
    components: {
      Dropdown: {
        controlItemBgActive: palette.band,
        controlItemBgActiveHover: palette.band,
        controlItemBgHover: palette.band,
      },
      // What the user has opened lies over what comes by itself: below popovers, above dialogs.
      Notification: { zIndexPopup: 1020 },
      Button: { primaryShadow: 'none', defaultShadow: 'none', primaryColor: palette.onIndigo },
    },
  };
}

/** The same palette for our own style sheets, as custom properties of the document. */
export function applyPalette(light: Light, root: HTMLElement): void {
  for (const [name, colour] of paletteProperties(light)) root.style.setProperty(name, colour);
  root.style.setProperty('color-scheme', light);
}
