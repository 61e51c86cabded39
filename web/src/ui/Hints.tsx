import { autoUpdate, flip, offset, shift, useFloating } from '@floating-ui/react-dom';
import { useEffect, useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import { createPortal } from 'react-dom';

interface Shown {
  anchor: Element;
  words: string;
}

const CARRIES = '[data-hint], .truncate, .line-clamp-2';
const ACTS = 'a, button, input, textarea, [role=button], [role=option], [role=treeitem]';
const BEFORE_MS = 350;
const AFTER_MS = 160;

const isCut = (e: Element): boolean => e.scrollWidth > e.clientWidth || e.scrollHeight > e.clientHeight + 4;

/** What is to be told of an element: its hint, or its whole text where that is cut. */
function told(e: Element): Shown | null {
  const hint = e.getAttribute('data-hint');
  const words = hint !== null ? hint : isCut(e) ? (e.textContent ?? '') : '';
  return words.trim() === '' ? null : { anchor: e, words: words.trim() };
}

/** What there is to tell at a place: of the nearest thing around it that has something. */
function around(from: Element): Shown | null {
  for (let e = from.closest(CARRIES); e !== null; e = e.parentElement?.closest(CARRIES) ?? null) {
    const found = told(e);
    if (found !== null) {
      return found;
    }
  }
  return null;
}

/** What there is to tell of what the keyboard is on: around it, or cut within it. */
function focused(on: Element): Shown | null {
  const outer = around(on);
  if (outer !== null) {
    return outer;
  }
  if (!on.matches(ACTS)) {
    return null;
  }
  const within = [...on.querySelectorAll(CARRIES)].map(told).filter((s) => s !== null);
  return within.length === 0 ? null : { anchor: on, words: within.map((s) => s.words).join(', ') };
}

/**
 * Shows the words of everything on the page that carries `data-hint`, and the whole of what is cut with "…": to a
 * mouse that rests there, to the keyboard at once, to a finger that taps what does nothing else or rests on what does.
 * One layer for all, because a page may carry hundreds of marks. Escape takes it away and goes on to whatever else it
 * means: it may have to stop an output.
 */
export function Hints() {
  const [shown, setShown] = useState<Shown | null>(null);
  const { refs, floatingStyles } = useFloating({
    placement: 'top',
    strategy: 'fixed',
    middleware: [offset(6), flip({ padding: 8 }), shift({ padding: 8 })],
    elements: { reference: shown?.anchor ?? null },
    whileElementsMounted: autoUpdate,
  });
  const layer = refs.floating;

  useEffect(() => {
    let due: ReturnType<typeof setTimeout> | undefined;
    const soon = (next: Shown | null, ms: number): void => {
      clearTimeout(due);
      due = setTimeout(() => setShown(next), ms);
    };
    const at = (event: Event): Element | null => (event.target instanceof Element ? event.target : null);
    const inLayer = (e: Element | null): boolean => e !== null && layer.current?.contains(e) === true;
    const over = (event: PointerEvent): void => {
      const on = at(event);
      if (event.pointerType === 'touch' || on === null) {
        return;
      }
      if (inLayer(on)) {
        clearTimeout(due);
        return;
      }
      // Nothing is told under what is dragged.
      const next = event.buttons === 0 ? around(on) : null;
      soon(next, next === null ? AFTER_MS : BEFORE_MS);
    };
    const came = (event: FocusEvent): void => {
      const on = at(event);
      if (on?.matches(':focus-visible') === true) {
        soon(focused(on), 0);
      }
    };
    const left = (): void => soon(null, 0);
    const tapped = (event: MouseEvent): void => {
      const on = at(event);
      const finger = event instanceof PointerEvent && event.pointerType === 'touch';
      if (inLayer(on)) {
        return;
      }
      soon(finger && on !== null && on.closest(ACTS) === null ? around(on) : null, 0);
    };
    const rested = (event: MouseEvent): void => {
      const on = at(event);
      const next = event instanceof PointerEvent && event.pointerType === 'touch' && on !== null ? around(on) : null;
      if (next !== null) {
        event.preventDefault();
        soon(next, 0);
      }
    };
    const key = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') {
        left();
      }
    };
    document.addEventListener('pointerover', over);
    document.addEventListener('focusin', came);
    document.addEventListener('focusout', left);
    document.addEventListener('click', tapped, true);
    document.addEventListener('contextmenu', rested);
    document.addEventListener('keydown', key, true);
    document.addEventListener('scroll', left, true);
    return () => {
      clearTimeout(due);
      document.removeEventListener('pointerover', over);
      document.removeEventListener('focusin', came);
      document.removeEventListener('focusout', left);
      document.removeEventListener('click', tapped, true);
      document.removeEventListener('contextmenu', rested);
      document.removeEventListener('keydown', key, true);
      document.removeEventListener('scroll', left, true);
    };
  }, [layer]);

  // What is taken off the page takes its words along.
  useEffect(() => {
    if (shown === null) {
      return undefined;
    }
    const gone = new MutationObserver(() => (shown.anchor.isConnected ? undefined : setShown(null)));
    gone.observe(document.body, { childList: true, subtree: true });
    return () => gone.disconnect();
  }, [shown]);

  return shown === null
    ? null
    : createPortal(
        <div
          ref={refs.setFloating}
          role="tooltip"
          // Over a dialog the rest of the page takes no pointer; this does, and a press on it is none outside of it.
          style={{ ...floatingStyles, pointerEvents: 'auto' }}
          onPointerDown={(e) => e.stopPropagation()}
          className="z-[70] max-w-[min(26rem,92vw)] rounded-xs border border-ink bg-paper px-2.5 py-1 text-[14px] leading-snug [overflow-wrap:anywhere] text-ink shadow-[0_4px_16px_rgb(0_0_0/0.25)]"
          data-hints
        >
          {shown.words}
        </div>,
        document.body,
      );
}

/** A line of text that is no control: where it is cut, the tab key reaches it, and {@link Hints} tells it. */
export function Cut({
  as: As = 'span',
  className = '',
  children,
}: {
  as?: 'span' | 'p' | 'b' | 'h1' | 'h2';
  className?: string;
  children: ReactNode;
}) {
  const own = useRef<HTMLElement>(null);
  const [cut, setCut] = useState(false);
  useLayoutEffect(() => {
    const e = own.current;
    if (e === null) {
      return undefined;
    }
    const look = (): void => setCut(isCut(e));
    look();
    const watch = new ResizeObserver(look);
    watch.observe(e);
    return () => watch.disconnect();
  }, [children]);
  return (
    <As ref={own as never} className={`truncate ${className}`} tabIndex={cut ? 0 : undefined}>
      {children}
    </As>
  );
}
