import { useEffect, useRef } from 'react';
import { drawThumbnail } from './thumbnails.js';
import styles from './files.module.css';

/** A page, drawn when it comes near the window. */
export default function Thumbnail({ versionId, page }: { versionId: number; page: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current!;
    const observer = new IntersectionObserver(([entry]) => {
      if (!entry?.isIntersecting) return;
      observer.disconnect();
      // Without it there is an empty page, which says as much.
      drawThumbnail(element, versionId, page).catch(() => undefined);
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [versionId, page]);
  return <canvas ref={canvas} className={styles.thumbnail} aria-hidden="true" />;
}
