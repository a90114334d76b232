import type { Page } from '@playwright/test';

/**
 * What is wrong with the layout of what is on screen: texts that are cut off, leave their panel or the window, or overlap another.
 * Texts that are scrolled away, or that a script reader alone reads, are not looked at.
 */
export const layoutFaults = (page: Page): Promise<readonly string[]> => page.evaluate(lookForFaults);

/** Runs in the browser. Sizes are in px of the window. */
function lookForFaults(): string[] {
  interface Box {
    readonly left: number;
    readonly right: number;
    readonly top: number;
    readonly bottom: number;
  }
  interface Text {
    readonly words: string;
    readonly element: Element;
    readonly box: Box;
  }
  const faults: string[] = [];
  const tolerance = 1.5;
  const clips = (overflow: string) => overflow !== 'visible';
  const isHidden = (element: Element) => {
    const { visibility, opacity, clip, clipPath } = getComputedStyle(element);
    return (
      visibility !== 'visible' || opacity === '0' || clip === 'rect(0px, 0px, 0px, 0px)' || clipPath === 'inset(50%)'
    );
  };
  /** The part of a box that can be seen, or undefined. */
  const seen = (element: Element, box: Box): Box | undefined => {
    let { left, right, top, bottom } = box;
    for (let at: Element | null = element; at; at = at.parentElement) {
      const style = getComputedStyle(at);
      if (isHidden(at)) return undefined;
      if (at instanceof SVGElement || at === document.body || at === document.documentElement) continue;
      const edge = at.getBoundingClientRect();
      if (clips(style.overflowX)) [left, right] = [Math.max(left, edge.left), Math.min(right, edge.right)];
      if (clips(style.overflowY)) [top, bottom] = [Math.max(top, edge.top), Math.min(bottom, edge.bottom)];
    }
    return right - left > 2 && bottom - top > 4 ? { left, right, top, bottom } : undefined;
  };
  const short = (words: string) => words.replace(/\s+/g, ' ').trim().slice(0, 50);

  const texts: Text[] = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const node = walker.currentNode;
    const element = node.parentElement;
    if (!element?.checkVisibility({ visibilityProperty: true, opacityProperty: true })) continue;
    const words = short(node.textContent ?? '');
    if (
      !element ||
      words.replace(/\u200b/g, '') === '' ||
      /^(SCRIPT|STYLE|NOSCRIPT|TITLE|DESC)$/i.test(element.tagName)
    )
      continue;
    if (element.closest('legend, [aria-hidden=true]:not(svg *)')) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    for (const rect of range.getClientRects()) {
      const box = seen(element, rect);
      if (box) texts.push({ words, element, box });
      // What a box with hidden overflow swallows is cut off; what one can scroll to is not.
      for (let at: Element | null = element; at && at !== document.body; at = at.parentElement) {
        if (at instanceof SVGElement && !(at instanceof SVGSVGElement)) continue;
        const edge = at.getBoundingClientRect();
        const { overflowX, textOverflow } = getComputedStyle(at);
        const over = Math.max(rect.right - edge.right, edge.left - rect.left);
        const goesOver = over > tolerance;
        // What ends in an ellipsis may be too long by a fraction of a px.
        if (
          /hidden|clip/.test(overflowX) &&
          over > (textOverflow === 'ellipsis' ? 0.2 : tolerance) &&
          !isHidden(at) &&
          edge.width > 2
        ) {
          faults.push(`cut off: “${words}”`);
          break;
        }
        if (/auto|scroll/.test(overflowX)) break;
        if (at.matches('section, [role=dialog], nav, main') && goesOver) {
          faults.push(`hangs out: “${words}”`);
          break;
        }
      }
    }
  }
  for (const field of document.querySelectorAll<HTMLInputElement>('input, textarea')) {
    if (!/^(text|number|search|)$/.test(field.type) || field.value === '') continue;
    const box = seen(field, field.getBoundingClientRect());
    if (!box || box.right - box.left < 8) continue;
    if (field.tagName === 'INPUT' && field.scrollWidth > field.clientWidth + 1)
      faults.push(
        `cut off in its field: “${short(field.value)}” (${field.ariaLabel ?? field.labels?.[0]?.textContent ?? ''})`,
      );
    texts.push({ words: `“${short(field.value)}”`, element: field, box });
  }

  /** Lines stand closer than their letters are high: only the middle of each counts. */
  const middle = ({ left, right, top, bottom }: Box): Box => {
    const inset = (bottom - top) * 0.28;
    return { left: left + 1, right: right - 1, top: top + inset, bottom: bottom - inset };
  };
  const layers = '[role=dialog], [role=presentation], .MuiSnackbar-root, header, thead';
  const placed = texts
    .map(({ words, element, box }) => ({ words, element, box: middle(box), layer: element.closest(layers) }))
    .sort((a, b) => a.box.top - b.box.top);
  placed.forEach((one, k) => {
    for (let n = k + 1; n < placed.length; n++) {
      const other = placed[n];
      if (!other || other.box.top > one.box.bottom - 1) break;
      const wide = Math.min(one.box.right, other.box.right) - Math.max(one.box.left, other.box.left);
      if (wide > 1 && one.element !== other.element && one.layer === other.layer)
        faults.push(`overlap: “${one.words}” and “${other.words}”`);
    }
  });
  if (document.documentElement.scrollWidth > window.innerWidth) faults.push('the page is wider than the window');
  return [...new Set(faults)];
}
