import type { CSSObject, SxProps, Theme } from '@mui/material/styles';

/** Styles of a `styled` element in the words of `sx`, worked out once for each theme and not at every drawing. */
export function sxOnce(styles: SxProps<Theme>): (props: { readonly theme: Theme }) => CSSObject {
  const made = new WeakMap<Theme, CSSObject>();
  return ({ theme }) => {
    const known = made.get(theme);
    if (known) return known;
    const fresh: CSSObject = theme.unstable_sx(styles);
    made.set(theme, fresh);
    return fresh;
  };
}
