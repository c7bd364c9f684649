import type { ReactNode } from 'react';
import { KirakuMark } from '../shared/ui/KirakuMark.js';
import styles from './gate.module.css';

/** A sheet in the middle of the empty desk, before anybody sits down. */
export function Gate({ title, words, children }: { title: string; words: string; children: ReactNode }) {
  return (
    <main className={styles.gate}>
      <div className={styles.name}>
        <KirakuMark size={30} />
        <span>Kiraku</span>
      </div>
      <section className={styles.sheet}>
        <h1>{title}</h1>
        <p className="soft">{words}</p>
        {children}
      </section>
    </main>
  );
}
