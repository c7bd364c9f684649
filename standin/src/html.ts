/** HTML that may stand in a page as it is. */
export class Html {
  constructor(readonly text: string) {}
}

type Part = string | number | Html | Html[] | null;

/** A template whose values are escaped, unless they are HTML themselves. */
export function html(strings: TemplateStringsArray, ...parts: Part[]): Html {
  return new Html(strings.reduce((text, string, index) => text + render(parts[index - 1] ?? null) + string));
}

function render(part: Part): string {
  if (part === null) return '';
  if (part instanceof Html) return part.text;
  if (Array.isArray(part)) return part.map(render).join('');
  return String(part).replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
}
