import { useEffect, useState } from 'react';

const DEBOUNCE_MS = 150;

/** What is typed, once it has stayed the same for a moment: so that not each key press asks the server. */
export function useDebounced(typed: string): string {
  const [value, setValue] = useState(typed);
  useEffect(() => {
    const timer = setTimeout(() => setValue(typed), DEBOUNCE_MS);
    return () => clearTimeout(timer);
  }, [typed]);
  return value;
}
