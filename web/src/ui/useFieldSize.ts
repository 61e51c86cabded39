import { useEffect, useRef, useState, type RefObject } from 'react';

export interface FieldSize {
  readonly width: number;
  readonly height: number;
}

/**
 * Size of an element in whole px, followed; null until it is known and while it is less than the least. And how often
 * the colour scheme turned, for what is painted and not styled.
 */
export function useFieldSize(least: number): [RefObject<HTMLDivElement | null>, FieldSize | null, number] {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<FieldSize | null>(null);
  const [scheme, setScheme] = useState(0);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const rect = entry?.contentRect;
      if (rect !== undefined && rect.width > least && rect.height > least) {
        setSize({ width: Math.floor(rect.width), height: Math.floor(rect.height) });
      }
    });
    if (box.current !== null) {
      observer.observe(box.current);
    }
    const dark = window.matchMedia('(prefers-color-scheme: dark)');
    const turned = (): void => setScheme((n) => n + 1);
    dark.addEventListener('change', turned);
    return () => {
      observer.disconnect();
      dark.removeEventListener('change', turned);
    };
  }, [least]);
  return [box, size, scheme];
}
