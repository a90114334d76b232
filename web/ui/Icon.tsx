import { SvgIcon, type SvgIconProps } from '@mui/material';

/** A symbol of the Material Design Icons set by its path. */
export function Icon({ path, ...rest }: SvgIconProps & { readonly path: string }) {
  return (
    <SvgIcon fontSize="small" {...rest}>
      <path d={path} />
    </SvgIcon>
  );
}
