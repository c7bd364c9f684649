import { useEditorState, type Editor } from '@tiptap/react';
import { useEffect, useRef, useState } from 'react';
import { matchingNames } from '@kiraku/core/message';
import { counted } from '@kiraku/core/time';
import styles from './editor.module.css';

/** A template that can be put into a text by typing its name. */
export interface Completion {
  id: number;
  name: string;
  /** Beside its name. */
  detail: string;
  /** Called when it is chosen; returns the HTML that takes the place of the typed name. */
  take(): string;
}

const MAX_SHOWN = 5;
const LIST_ID = 'matching-templates';

/**
 * Offers the templates whose names match the line at the cursor. Nothing is marked before the arrow down was pressed, so that Enter
 * and Tab do what they always do.
 */
export function Completions({ editor, completions }: { editor: Editor; completions: readonly Completion[] }) {
  const line = useEditorState({
    editor,
    selector: ({ editor: current }) => {
      const typed = lineAtCursor(current);
      const like = matchingNames(typed, completions).slice(0, MAX_SHOWN);
      return like.length === 0 ? null : { text: typed, found: like, place: placeBelow(current) };
    },
  });
  const [left, setLeft] = useState('');
  const [mark, setMark] = useState({ text: '', index: -1 });
  const text = line?.text ?? '';
  const found = !line || text === left ? [] : line.found;
  // What was marked for another text is not any more.
  const marked = mark.text === text ? mark.index : -1;

  const choose = (completion: Completion) => {
    const { $from } = editor.state.selection;
    editor.chain().focus().insertContentAt({ from: $from.before(), to: $from.after() }, completion.take()).run();
  };
  const onKey = (press: KeyboardEvent) => {
    if (found.length === 0 || press.isComposing) return;
    const keys: Record<string, (() => void) | undefined> = {
      ArrowDown: () => setMark({ text, index: Math.min(marked + 1, found.length - 1) }),
      ...(marked >= 0 && { ArrowUp: () => setMark({ text, index: marked - 1 }) }),
      ...(marked >= 0 && { Enter: () => choose(found[marked]!) }),
      Escape: () => setLeft(text),
    };
    const act = keys[press.key];
    if (!act) return;
    press.preventDefault();
    press.stopPropagation();
    act();
  };
  const latest = useRef(onKey);
  useEffect(() => {
    latest.current = onKey;
  });
  // Before the editor itself hears it.
  useEffect(() => {
    const { dom } = editor.view;
    const hear = (press: KeyboardEvent) => latest.current(press);
    dom.addEventListener('keydown', hear, true);
    return () => dom.removeEventListener('keydown', hear, true);
  }, [editor]);

  // What is marked is said by the text field, which keeps the cursor (WAI-ARIA, combobox pattern).
  const markedId = marked >= 0 ? `${LIST_ID}-${marked}` : null;
  useEffect(() => {
    const { dom } = editor.view;
    if (markedId === null) return undefined;
    const said = { 'aria-controls': LIST_ID, 'aria-activedescendant': markedId };
    for (const [name, value] of Object.entries(said)) dom.setAttribute(name, value);
    return () => Object.keys(said).forEach((name) => dom.removeAttribute(name));
  }, [editor, markedId]);

  if (found.length === 0 || !line) return <span role="status" />;
  return (
    <>
      <span role="status" className="skip">
        {counted(found.length, 'matching template')}. Press the arrow down, then Enter, to insert one.
      </span>
      <ul id={LIST_ID} className={styles.completions} style={line.place} role="listbox" aria-label="Matching templates">
        {found.map((one, index) => (
          <li
            key={one.id}
            id={`${LIST_ID}-${index}`}
            role="option"
            aria-selected={index === marked}
            // The cursor stays where it is.
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => choose(one)}
          >
            {one.name} <span className="soft">{one.detail}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** The text of the line that the cursor stands at the end of; empty where it stands elsewhere. */
function lineAtCursor({ state: { selection }, isFocused }: Editor): string {
  const { $from } = selection;
  const isLine = selection.empty && $from.depth === 1 && $from.parent.type.name === 'paragraph';
  const isAtEnd = $from.parentOffset === $from.parent.content.size;
  return isFocused && isLine && isAtEnd ? $from.parent.textContent : '';
}

function placeBelow({ state, view }: Editor): { left: number; top: number } {
  const cursor = view.coordsAtPos(state.selection.from);
  const frame = (view.dom.parentElement ?? view.dom).getBoundingClientRect();
  return { left: 0, top: cursor.bottom - frame.top + 4 };
}
