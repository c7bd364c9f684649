import type { ReactNode } from 'react';

/** An empty list: what would fill it, and the way there. */
export function Nothing({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="nothing">
      <svg width="180" height="30" aria-hidden="true">
        <path className="trail-line" d="M8,15 H172" />
        <circle className="trail-sent" cx="8" cy="15" r="3.4" />
      </svg>
      <h2>{title}</h2>
      {children}
    </div>
  );
}
