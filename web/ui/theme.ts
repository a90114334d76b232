import { createTheme, type Theme } from '@mui/material/styles';

export const wordFace = '"Source Sans 3", "Segoe UI", sans-serif';
export const numberFace = '"JetBrains Mono", ui-monospace, monospace';

const light = {
  surface: '#f3eee3',
  sheet: '#fbf8f1',
  ink: '#1f2b2c',
  faded: '#505b56',
  rule: '#d5ccb9',
  petrol: '#0f5a64',
  brass: '#8a6212',
  brick: '#a3382a',
  moss: '#3f6b3a',
};
const dark = {
  surface: '#141a1b',
  sheet: '#1c2425',
  ink: '#e8e2d4',
  faded: '#a3aca6',
  rule: '#36413f',
  petrol: '#6cbac4',
  brass: '#dcb155',
  brick: '#ee8573',
  moss: '#93c08c',
};

/** A menu is there at once and gone at once: what moves on this screen is the machine. */
const still = {
  create: () => 'none',
  getAutoHeightDuration: () => 0,
  duration: {
    shortest: 0,
    shorter: 0,
    short: 0,
    standard: 0,
    complex: 0,
    enteringScreen: 0,
    leavingScreen: 0,
  },
};

/** Paper, ink, petrol for what can be done, brass for "look here", brick for "stop". */
export function workshopTheme(mode: 'light' | 'dark'): Theme {
  const colour = mode === 'light' ? light : dark;
  return createTheme({
    palette: {
      mode,
      primary: { main: colour.petrol },
      warning: { main: colour.brass },
      error: { main: colour.brick },
      success: { main: colour.moss },
      info: { main: colour.petrol },
      background: { default: colour.surface, paper: colour.sheet },
      text: { primary: colour.ink, secondary: colour.faded },
      divider: colour.rule,
    },
    shape: { borderRadius: 3 },
    transitions: still,
    spacing: 8,
    typography: {
      fontFamily: wordFace,
      fontSize: 13,
      h1: { fontSize: '1.35rem', fontWeight: 600 },
      h2: { fontSize: '1rem', fontWeight: 600 },
      h3: { fontSize: '0.86rem', fontWeight: 600 },
      button: { textTransform: 'none', fontWeight: 600 },
    },
    components: {
      MuiPaper: { defaultProps: { variant: 'outlined' }, styleOverrides: { root: { backgroundImage: 'none' } } },
      // A label above its field, never in it: it would cover the unit and be cut off beside it.
      MuiInputLabel: { defaultProps: { shrink: true } },
      MuiOutlinedInput: { defaultProps: { notched: true } },
      MuiTextField: { defaultProps: { size: 'small', fullWidth: true } },
      MuiButton: { defaultProps: { size: 'small', disableElevation: true } },
      MuiTabs: { styleOverrides: { root: { minHeight: 30 } } },
      MuiTab: { styleOverrides: { root: { minHeight: 30, minWidth: 0, padding: '4px 10px', fontSize: 14 } } },
      MuiTableCell: { styleOverrides: { root: { padding: '3px 8px', borderColor: colour.rule } } },
      MuiFormHelperText: { styleOverrides: { root: { marginLeft: 0, marginTop: 1, lineHeight: 1.25 } } },
      MuiButtonBase: {
        defaultProps: { disableRipple: true },
        styleOverrides: { root: { '&.Mui-focusVisible': { outline: `2px solid ${colour.petrol}`, outlineOffset: 1 } } },
      },
    },
  });
}
