import { useEffect } from 'react';
import { useLocation } from 'react-router';

/** ms that a page is given to draw the field that its address names; then the nearest one is taken. */
const patience = 1500;

/** Brings the field that the address names into view and gives it the focus, as soon as it is drawn. */
export function useShownField(): void {
  const { hash, key } = useLocation();
  useEffect(() => {
    const path = pathIn(hash);
    if (path === '') return;
    const isShown = () => show(fieldAt(path));
    if (isShown()) return;
    const watched = new MutationObserver(() => {
      if (isShown()) stop();
    });
    const end = setTimeout(() => {
      stop();
      show(nearestTo(path));
    }, patience);
    const stop = () => {
      clearTimeout(end);
      watched.disconnect();
    };
    watched.observe(document.body, { childList: true, subtree: true });
    return stop;
  }, [hash, key]);
}

/** The path that an address names; none in one that cannot be read. */
function pathIn(hash: string): string {
  try {
    return decodeURIComponent(hash.slice(1));
  } catch {
    return '';
  }
}

function show(field: HTMLElement | undefined): boolean {
  field?.scrollIntoView({ block: 'center' });
  field?.focus({ preventScroll: true });
  return field !== undefined;
}

/** The element that shows a field, or the first one within it. */
function fieldAt(path: string): HTMLElement | undefined {
  const all = [...document.querySelectorAll<HTMLElement>('main [data-field]')];
  return (
    all.find(({ dataset }) => dataset.field === path) ??
    all.find(({ dataset }) => dataset.field?.startsWith(`${path}/`))
  );
}

/** The element of what a field is within. */
function nearestTo(path: string): HTMLElement | undefined {
  const within = path.slice(0, path.lastIndexOf('/'));
  return within === '' ? undefined : (fieldAt(within) ?? nearestTo(within));
}
