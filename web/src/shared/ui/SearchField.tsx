import { Input } from 'antd';
import { useEffect, useRef, useState } from 'react';
import styles from './page.module.css';

/** While somebody types, the list waits for the end of the word. */
const TYPING_MS = 200;
const MAX_SEARCH_CHARS = 200;

interface SearchFieldProps {
  /** What the list is searched for, as its address says. */
  words: string;
  placeholder: string;
  onChange(words: string): void;
}

/** What a list is searched for. It keeps what is typed by itself: the address that says it comes a moment later. */
export function SearchField({ words, placeholder, onChange }: SearchFieldProps) {
  const [typed, setTyped] = useState(words);
  const [known, setKnown] = useState(words);
  const [asked, setAsked] = useState(words);
  // The address may say something else meanwhile: a view that was chosen, or the way back. That it says now what was
  // asked for is no news: typing has gone on since.
  if (words !== known) {
    setKnown(words);
    if (words !== asked) {
      setAsked(words);
      setTyped(words);
    }
  }
  const timer = useRef<number>(undefined);
  const ask = (next: string) => {
    clearTimeout(timer.current);
    setAsked(next);
    if (next !== words) onChange(next);
  };
  const latest = useRef(ask);
  useEffect(() => {
    latest.current = ask;
  });
  useEffect(() => () => clearTimeout(timer.current), []);
  return (
    <Input
      type="search"
      className={styles.listSearch}
      placeholder={placeholder}
      aria-label="Search"
      allowClear
      maxLength={MAX_SEARCH_CHARS}
      value={typed}
      onChange={({ target: { value } }) => {
        setTyped(value);
        clearTimeout(timer.current);
        timer.current = window.setTimeout(() => latest.current(value), TYPING_MS);
      }}
      // Whoever leaves the field for what was found is not called back a moment later.
      onBlur={() => ask(typed)}
    />
  );
}
