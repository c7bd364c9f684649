import { useLayoutEffect, useRef, useState, type RefObject } from 'react';
import { useAppSelector } from '../shared/store/store.js';

interface BodyFrame {
  frame: RefObject<HTMLIFrameElement | null>;
  /** As high as what stands in it. */
  height: number;
  onLoad(): void;
}

/**
 * A frame that shows a message in the light of the desk, and is as high as the message.
 *
 * @param firstHeight until it is known
 * @param onMeasure called with the message’s document whenever it may have another shape
 */
export function useBodyFrame(firstHeight: number, onMeasure?: (document: Document) => void): BodyFrame {
  const frame = useRef<HTMLIFrameElement>(null);
  const light = useAppSelector((state) => state.light);
  const [height, setHeight] = useState(firstHeight);
  const [loaded, setLoaded] = useState(0);
  useLayoutEffect(() => {
    const document = frame.current?.contentDocument;
    if (!document?.body || loaded === 0) return;
    dress(document);
    const measure = () => {
      setHeight(document.documentElement.scrollHeight);
      onMeasure?.(document);
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(document.body);
    return () => observer.disconnect();
  }, [loaded, onMeasure, light]);
  return { frame, height, onLoad: () => setLoaded((count) => count + 1) };
}

/** The message in the light of the desk; what it says of its own looks comes first. */
function dress(document: Document): void {
  const style = document.getElementById('desk') ?? document.head.appendChild(document.createElement('style'));
  style.id = 'desk';
  const value = (name: string) => getComputedStyle(window.document.documentElement).getPropertyValue(name);
  style.textContent =
    `html{color-scheme:${value('color-scheme')}}` +
    `body{margin:0;background:transparent;color:${value('--ink')};font:15px/1.55 "Helvetica Neue",Arial,sans-serif;overflow-wrap:anywhere}` +
    `a{color:${value('--indigo')}}p{margin:0 0 14px}blockquote{margin:0 0 14px;padding-left:12px;border-left:2px solid ${value('--line')}}`;
}
