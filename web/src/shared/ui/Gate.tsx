import type { ReactNode } from 'react';
import { KirakuMark } from './KirakuMark.js';
import styles from './gate.module.css';

interface GateProps {
  title: string;
  words: string;
  /** For forms that need more room than a passphrase. */
  isWide?: boolean;
  children: ReactNode;
}

/** A sheet in the middle of the empty desk, before anybody sits down. */
export function Gate({ title, words, isWide = false, children }: GateProps) {
  return (
    <main className={styles.gate}>
      <div className={styles.name}>
        <KirakuMark size={30} />
        <span>Kiraku</span>
      </div>
      <section className={isWide ? `${styles.sheet} ${styles.wide}` : styles.sheet}>
        <h1>{title}</h1>
        <p className="soft">{words}</p>
        {children}
      </section>
    </main>
  );
}
