'use client';
import { createTheme } from '@mui/material/styles';

/** Paper and ink. Ochre always means as is, teal always treated; nothing else has colour. */
export const theme = createTheme({
  cssVariables: true,
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#1f2b33', contrastText: '#fffdf8' },
        secondary: { main: '#0d6b72' },
        warning: { main: '#925412' },
        error: { main: '#1f2b33' },
        background: { default: '#f7f4ed', paper: '#fffdf8' },
        text: { primary: '#1f2b33', secondary: '#5c676d' },
        divider: '#ddd5c4',
      },
    },
    dark: {
      palette: {
        primary: { main: '#ece6d8', contrastText: '#14191c' },
        secondary: { main: '#5fb9bf' },
        warning: { main: '#d79a55' },
        error: { main: '#ece6d8' },
        background: { default: '#14191c', paper: '#1b2226' },
        text: { primary: '#ece6d8', secondary: '#a3aaa8' },
        divider: '#343d41',
      },
    },
  },
  shape: { borderRadius: 6 },
  spacing: 8,
  typography: {
    fontFamily: '"Instrument Sans Variable", sans-serif',
    fontSize: 13,
    htmlFontSize: 16,
    button: { textTransform: 'none', fontWeight: 600, letterSpacing: 0 },
    h1: { fontSize: 21, fontWeight: 650, lineHeight: 1.3, letterSpacing: '-0.01em' },
    h2: { fontSize: 15, fontWeight: 650, lineHeight: 1.35 },
    body1: { fontSize: 14, lineHeight: 1.45 },
    body2: { fontSize: 13, lineHeight: 1.45 },
  },
  components: {
    MuiButton: {
      defaultProps: { disableElevation: true, disableRipple: true, size: 'small' },
      styleOverrides: {
        root: { padding: '3px 12px', minHeight: 28, borderRadius: 7, fontSize: 13, lineHeight: 1.4 },
        outlined: { borderColor: 'currentColor' },
      },
    },
    MuiTableCell: {
      styleOverrides: {
        root: {
          padding: '6px 10px',
          fontSize: 13,
          borderBottomColor: 'var(--line)',
          fontVariantNumeric: 'tabular-nums',
        },
        head: {
          fontSize: 12,
          fontWeight: 550,
          color: 'var(--muted)',
          backgroundColor: 'transparent',
          whiteSpace: 'nowrap',
        },
      },
    },
    MuiPaper: {
      defaultProps: { elevation: 0 },
      styleOverrides: { root: { backgroundImage: 'none', border: '1px solid var(--line)' } },
    },
    MuiDialog: { defaultProps: { transitionDuration: 0 } },
    MuiMenu: { defaultProps: { transitionDuration: 0 } },
    MuiFormHelperText: { styleOverrides: { root: { fontSize: 12 } } },
    // A label that has gone up stays as large as can be read; the gap in the frame goes by the same figure.
    MuiInputLabel: { styleOverrides: { shrink: { transform: 'translate(14px, -9px) scale(0.88)' } } },
    MuiOutlinedInput: { styleOverrides: { notchedOutline: { '& legend': { fontSize: '0.88em' } } } },
    MuiTextField: { defaultProps: { size: 'small', variant: 'outlined' } },
    MuiSelect: { defaultProps: { size: 'small', variant: 'outlined' } },
    MuiSwitch: {
      // The small variant's own sizes would go before these.
      defaultProps: { size: 'medium', disableRipple: true },
      styleOverrides: {
        root: { width: 34, height: 18, padding: 0, margin: '1px 0' },
        switchBase: {
          padding: 3,
          color: 'var(--muted)',
          '&.Mui-checked': { transform: 'translateX(16px)', color: 'var(--sheet)' },
          '&.Mui-checked + .MuiSwitch-track': { backgroundColor: 'var(--ink)', opacity: 1 },
          '&.Mui-focusVisible + .MuiSwitch-track': { outline: '2px solid var(--ink)', outlineOffset: 2 },
        },
        thumb: { width: 12, height: 12, borderRadius: 2, boxShadow: 'none' },
        track: {
          borderRadius: 4,
          backgroundColor: 'transparent',
          border: '1px solid var(--muted)',
          opacity: 1,
        },
      },
    },
    MuiTooltip: { defaultProps: { arrow: false } },
  },
});
