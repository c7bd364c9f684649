import { LIGHTS, paletteCss, PALETTES } from '@kiraku/core/look';

/** How bright a colour is: relative luminance, WCAG 2.2. */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const share = parseInt(colour.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}

/** Contrast ratio, WCAG 2.2, 1.4.3. */
function contrast(one: string, other: string): number {
  const [lighter, darker] = [luminance(one), luminance(other)].sort((a, b) => b - a) as [number, number];
  return (lighter + 0.05) / (darker + 0.05);
}

test.each(LIGHTS)('in %s, words can be read on every ground', (light) => {
  const palette = PALETTES[light];
  for (const ink of ['ink', 'softInk', 'indigo', 'madder', 'ochre'] as const)
    for (const ground of ['paper', 'panel', 'band', 'ochrePanel'] as const)
      expect({ ink, ground, ratio: contrast(palette[ink], palette[ground]) >= 4.5 }).toEqual({
        ink,
        ground,
        ratio: true,
      });
  expect(contrast(palette.onIndigo, palette.indigo)).toBeGreaterThanOrEqual(4.5);
});

test('as CSS, dark holds where the system is dark', () => {
  const [light, dark] = paletteCss().split('@media (prefers-color-scheme:dark)');
  expect(light).toContain(`--soft-ink:${PALETTES.light.softInk}`);
  expect(dark).toContain(`--soft-ink:${PALETTES.dark.softInk}`);
});
