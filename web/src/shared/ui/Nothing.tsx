import type { ReactNode } from 'react';
import pageStyles from './page.module.css';
import trailStyles from './trail.module.css';

/** An empty list: what would fill it, and the way there. */
export function Nothing({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className={pageStyles.nothing}>
      <svg width="180" height="30" aria-hidden="true">
        <path className={trailStyles.line} d="M8,15 H172" />
        <circle className={trailStyles.sent} cx="8" cy="15" r="3.4" />
      </svg>
      <h2>{title}</h2>
      {children}
    </div>
  );
}
