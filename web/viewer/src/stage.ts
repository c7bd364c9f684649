export const stage = document.getElementById('stage')!;
export const tools = document.getElementById('tools')!;
const word = document.getElementById('word')!;

/** A sentence in place of the file, or none. */
export function say(words: string): void {
  word.textContent = words;
  word.hidden = words === '';
}

type Attributes = Partial<
  Record<'class' | 'type' | 'title' | 'aria-label' | 'inputmode' | 'role' | 'for' | 'id' | 'alt', string>
>;

/** An element with its attributes and children. */
export function make<Name extends keyof HTMLElementTagNameMap>(
  name: Name,
  attributes: Attributes = {},
  ...children: (Node | string)[]
): HTMLElementTagNameMap[Name] {
  const element = document.createElement(name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  element.append(...children);
  return element;
}

export function button(words: string, label: string, press: () => void): HTMLButtonElement {
  const element = make('button', { type: 'button', title: label, 'aria-label': label }, words);
  element.addEventListener('click', press);
  return element;
}
