import { PALETTES } from '@kiraku/core/look';
import styles from './write.module.css';

/** A message as its recipients will see it. Nothing in it runs, and nothing is loaded: the frame has no rights. */
export function PreviewFrame({ html, width }: { html: string; width: number | string }) {
  const document =
    '<!doctype html><meta charset="utf-8"><body style="font: 15px/1.5 Helvetica, Arial, sans-serif; ' +
    `color: ${PALETTES.light.ink}; background: ${PALETTES.light.panel}; margin: 16px; overflow-wrap: anywhere">${html}</body>`;
  return <iframe title="The message" className={styles.previewFrame} sandbox="" srcDoc={document} style={{ width }} />;
}
