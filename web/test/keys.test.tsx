import { jest } from '@jest/globals';
import { renderHook } from '@testing-library/react';
import { ACTION_KEYS, HELP_KEY, PAGE_KEYS, SEARCH_KEY, WRITE_KEY } from '../src/keyboard/keys.js';
import { useKeys, type KeyActions } from '../src/keyboard/useKeys.js';

const actions = { go: jest.fn<KeyActions['go']>(), search: jest.fn(), help: jest.fn() };
const pressed = jest.fn<(name: string) => void>();

beforeEach(() => {
  jest.clearAllMocks();
  Element.prototype.scrollIntoView = () => undefined;
  document.body.innerHTML = `
    <main>
      <button aria-keyshortcuts="R" id="page-reply">Reply</button>
      <ul>
        <li data-row><a href="#1" id="first">First</a> <button aria-keyshortcuts="D" id="first-done">Done</button></li>
        <li data-row><a href="#2" id="second">Second</a> <button aria-keyshortcuts="D" id="second-done">Done</button></li>
      </ul>
      <input id="field" /><textarea id="area"></textarea><div contenteditable="true" id="editor" tabindex="0"></div>
      <div role="dialog"><button id="in-dialog">OK</button></div>
    </main>`;
  for (const button of document.querySelectorAll('button')) button.addEventListener('click', () => pressed(button.id));
});

function press(key: string, on: string | null = null, init: KeyboardEventInit = {}): KeyboardEvent {
  const target = on === null ? document.body : document.getElementById(on)!;
  if (on !== null) target.focus();
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...init });
  target.dispatchEvent(event);
  return event;
}

const nothingHappened = () => {
  expect(actions.go).not.toHaveBeenCalled();
  expect(actions.search).not.toHaveBeenCalled();
  expect(actions.help).not.toHaveBeenCalled();
  expect(pressed).not.toHaveBeenCalled();
};

test('no key has two meanings', () => {
  const keys = [...[...PAGE_KEYS, ...ACTION_KEYS].map(({ key }) => key), WRITE_KEY, SEARCH_KEY, HELP_KEY];
  expect(new Set(keys).size).toBe(keys.length);
});

test('each page has its key; writing, searching and the list of keys have theirs', () => {
  renderHook(() => useKeys(true, actions));
  for (const { key, path } of PAGE_KEYS) {
    press(key);
    expect(actions.go).toHaveBeenLastCalledWith(path);
  }
  press('w');
  expect(actions.go).toHaveBeenLastCalledWith('/write');
  press('f');
  press('?');
  expect([actions.search, actions.help].map((mock) => mock.mock.calls.length)).toEqual([1, 1]);
});

test.each(['field', 'area', 'editor', 'in-dialog'])('no key does anything for whoever is in %s', (id) => {
  renderHook(() => useKeys(true, actions));
  for (const key of ['1', 'w', 'f', '?', 'r', 'd', 'ArrowDown']) expect(press(key, id).defaultPrevented).toBe(false);
  nothingHappened();
});

test.each<KeyboardEventInit>([{ ctrlKey: true }, { metaKey: true }, { altKey: true }])('nor with %j', (init) => {
  renderHook(() => useKeys(true, actions));
  for (const key of ['1', 'w', 'f', 'r']) press(key, null, init);
  nothingHappened();
});

test('switched off, single keys do nothing, and the arrows still move', () => {
  renderHook(() => useKeys(false, actions));
  for (const key of ['1', 'w', 'f', '?', 'r', 'd']) press(key);
  nothingHappened();
  press('ArrowDown', 'first');
  expect(document.activeElement?.id).toBe('second');
});

test('the arrows enter the list, and stay within it', () => {
  renderHook(() => useKeys(true, actions));
  expect(press('ArrowUp').defaultPrevented).toBe(false);
  press('ArrowDown');
  expect(document.activeElement?.id).toBe('first');
  press('ArrowDown', 'first');
  expect(document.activeElement?.id).toBe('second');
  press('ArrowDown', 'second');
  expect(document.activeElement?.id).toBe('second');
  press('ArrowUp', 'second-done');
  expect(document.activeElement?.id).toBe('first');
});

test('a key presses the button of the row that has the keyboard, and never another row’s', () => {
  renderHook(() => useKeys(true, actions));
  press('d', 'second');
  expect(pressed.mock.calls).toEqual([['second-done']]);
  // This row offers no reply: the page’s own is not meant.
  press('r', 'first');
  expect(pressed).toHaveBeenCalledTimes(1);
});

test('outside of rows it presses the page’s', () => {
  renderHook(() => useKeys(true, actions));
  press('R');
  expect(pressed.mock.calls).toEqual([['page-reply']]);
  expect(press('l').defaultPrevented).toBe(false);
});
