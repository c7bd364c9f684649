import { symbol, symbolDiamond, symbolSquare } from 'd3-shape';
import type { MarkShape as Shape } from '@kiraku/core/tracking';
import styles from './marks.module.css';

const DIAMOND = symbol(symbolDiamond, 72)() ?? '';
const SQUARE = symbol(symbolSquare, 64)() ?? '';
/** An arrow that turns back: somebody replied. */
const ARROW = 'M-6,-1 L-1,-6 M-6,-1 L-1,4 M-6,-1 H2 A4.5,4.5 0 0 1 2,8';

/** One mark of a trail, drawn around its own middle. The colour is that of the text around it. */
export function MarkShape({ shape, height = 18 }: { shape: Shape; height?: number }) {
  switch (shape) {
    case 'stroke':
      return <path d={`M0,${-height / 2} V${height / 2}`} stroke="currentColor" strokeWidth={2} fill="none" />;
    case 'diamond':
      return <path d={DIAMOND} fill="currentColor" />;
    case 'square':
      return <path d={SQUARE} fill="var(--panel)" stroke="currentColor" strokeWidth={1.8} />;
    case 'arrow':
      return <path d={ARROW} fill="none" stroke="currentColor" strokeWidth={1.8} strokeLinecap="round" />;
    case 'cross':
      return <path d="M-4.5,-4.5 L4.5,4.5 M-4.5,4.5 L4.5,-4.5" stroke="currentColor" strokeWidth={2} />;
    case 'dot':
      return <circle r={3.4} fill="currentColor" />;
    case 'ring':
      return <circle r={3} fill="none" stroke="currentColor" strokeWidth={1.2} />;
  }
}

/** How marks at one place are coloured. */
export function markClass(isCounted: boolean, isRecent: boolean): string {
  if (isRecent) return styles.markNow!;
  return isCounted ? styles.mark! : styles.markNotCounted!;
}
