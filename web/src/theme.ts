import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';
import '@fontsource-variable/bricolage-grotesque/wght.css';
import './otherScripts.css';
import { createTheme, type Theme } from '@mui/material/styles';

/** Colours of our own beside MUI's. The only file with colour literals. */
interface OwnColours {
  /** Light of a ringing string. */
  glow: string;
  /** Its edge, and the outline of a hollow one. */
  glowEdge: string;
  glowSoft: string;
  /** A chair at full brightness. */
  warm: string;
  /** Flags. */
  flag: string;
  /** Thin lines and resting strings. */
  line: string;
  /** Resting strings, the bridge, the dot of what nobody has looked at. */
  rest: string;
  /** Text on glow. */
  onGlow: string;
  /** The ground of cautions. */
  care: string;
  /** Drawings: wood, black wood, hair of a bow, metal, a hand, what is soft. */
  wood: string;
  board: string;
  hair: string;
  metal: string;
  limb: string;
  soft: string;
}

declare module '@mui/material/Button' {
  interface ButtonPropsVariantOverrides {
    /** Rounded, beside the toggles that look like it. */
    pill: true;
  }
}

declare module '@mui/material/styles' {
  interface CssThemeVariables {
    enabled: true;
  }
  interface Palette {
    own: OwnColours;
  }
  interface PaletteOptions {
    own: OwnColours;
  }
}

type ThemeVars = Theme['vars'];

const scripts =
  ' Arabic Hebrew Bengali Gurmukhi Gujarati Tamil Telugu Thai Ethiopic Armenian Georgian JP KR SC';
const otherScripts = scripts.split(' ').map((script) => `"Noto Sans${script && ` ${script}`}"`);
const sans = ['"Atkinson Hyperlegible Next Variable"', ...otherScripts, 'system-ui', 'sans-serif'].join(', ');
const display = `"Bricolage Grotesque Variable", ${sans}`;

/** The shape that toggles, choices and small actions share. */
export function pill({ palette }: ThemeVars) {
  return {
    flex: 'none',
    minHeight: 44,
    padding: '0 12px',
    fontSize: '1rem',
    fontWeight: 400,
    lineHeight: 1.3,
    borderRadius: 22,
    border: `1px solid ${palette.divider}`,
    background: palette.background.paper,
    color: palette.text.primary,
    '&:hover': { borderColor: palette.text.secondary, background: palette.background.paper },
    '&.Mui-disabled': { border: `1px solid ${palette.divider}`, opacity: 0.5 },
  };
}

/** What is on, or chosen. */
export function chosen({ palette }: ThemeVars) {
  return {
    background: palette.text.primary,
    borderColor: palette.text.primary,
    color: palette.background.paper,
    fontWeight: 600,
  };
}

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-theme' },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#1c5947', contrastText: '#fffaf0' },
        secondary: { main: '#8a5200', contrastText: '#fffaf0' },
        error: { main: '#9c1454', contrastText: '#fffaf0' },
        background: { default: '#f3ebdd', paper: '#fffaf0' },
        text: { primary: '#291f16', secondary: '#63564a' },
        divider: '#d9cbb3',
        own: {
          glow: '#e09a1a',
          glowEdge: '#8f5a00',
          glowSoft: '#f0c467',
          warm: '#fbdf9f',
          flag: '#a3195b',
          line: '#d9cbb3',
          rest: '#85776a',
          onGlow: '#291f16',
          care: '#fde7ee',
          wood: '#f3d9a4',
          board: '#4a382c',
          hair: '#a9988a',
          metal: '#d8cfc0',
          limb: '#fffaf0',
          soft: '#e6c6b4',
        },
      },
    },
    dark: {
      palette: {
        primary: { main: '#86cdb6', contrastText: '#14110d' },
        secondary: { main: '#f5b13d', contrastText: '#14110d' },
        error: { main: '#ff8ab8', contrastText: '#14110d' },
        background: { default: '#1a1611', paper: '#262019' },
        text: { primary: '#f6ecdd', secondary: '#c2b5a2' },
        divider: '#4a4033',
        own: {
          glow: '#f5b13d',
          glowEdge: '#ffcf7a',
          glowSoft: '#a97a2a',
          warm: '#5a4317',
          flag: '#ff7bb0',
          line: '#4a4033',
          rest: '#a3957f',
          onGlow: '#1a1611',
          care: '#45202f',
          wood: '#7a5d2c',
          board: '#0e0b08',
          hair: '#94877a',
          metal: '#857b6c',
          limb: '#383026',
          soft: '#6b4c3b',
        },
      },
    },
  },
  shape: { borderRadius: 6 },
  typography: {
    fontFamily: sans,
    fontSize: 15,
    h1: { fontFamily: display, fontSize: '1.9rem', fontWeight: 700, lineHeight: 1.15 },
    h2: { fontFamily: display, fontSize: '1.5rem', fontWeight: 700, lineHeight: 1.2 },
    h3: { fontSize: '1.05rem', fontWeight: 700, lineHeight: 1.3 },
    button: { textTransform: 'none', fontWeight: 600, fontSize: '1rem' },
  },
  components: {
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { fontFamily: sans } },
    },
    // Paper is paper in both themes: no veil over it where it lies above something else.
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiButton: {
      defaultProps: { disableElevation: true },
      styleOverrides: { root: { minHeight: 44 } },
      variants: [{ props: { variant: 'pill' }, style: ({ theme: { vars } }) => pill(vars) }],
    },
    MuiIconButton: {
      styleOverrides: { root: ({ theme: { vars } }) => ({ minWidth: 44, ...pill(vars) }) },
    },
    // On or off, alone or several of a kind.
    MuiToggleButton: {
      styleOverrides: {
        root: ({ theme: { vars } }) => ({
          ...pill(vars),
          textTransform: 'none',
          '&.Mui-selected, &.Mui-selected:hover': chosen(vars),
        }),
      },
    },
    // One of several: a pill for each, the radio itself lies unseen over it.
    MuiFormGroup: { styleOverrides: { root: { gap: 6 } } },
    // Also by long touch and by keyboard; never in the way of a key beneath it.
    MuiTooltip: {
      defaultProps: {
        describeChild: true,
        disableInteractive: true,
        enterDelay: 500,
        // Within its page, so that it belongs to a landmark.
        slotProps: { popper: { disablePortal: true } },
      },
      styleOverrides: { tooltip: { fontSize: '0.95rem' } },
    },
    MuiStack: { defaultProps: { useFlexGap: true } },
    MuiTabs: {
      styleOverrides: {
        root: { minHeight: 44 },
        indicator: ({ theme: { vars } }) => ({ height: 3, background: vars.palette.own.glow }),
      },
    },
    MuiTab: {
      styleOverrides: {
        root: ({ theme: { vars } }) => ({
          minHeight: 44,
          minWidth: 0,
          padding: '0 12px',
          fontSize: '1rem',
          fontWeight: 400,
          color: vars.palette.text.primary,
          opacity: 1,
          '&.Mui-selected': { color: vars.palette.text.primary, fontWeight: 700 },
        }),
      },
    },
    // A table on paper; rows are tall enough for a thumb.
    MuiTable: {
      defaultProps: { stickyHeader: true },
      styleOverrides: {
        root: ({ theme: { vars, breakpoints } }) => ({
          background: vars.palette.background.paper,
          border: `1px solid ${vars.palette.divider}`,
          // What a phone has no room for; all of it is on the page that a row opens.
          [breakpoints.down('sm')]: { '& .wide': { display: 'none' } },
          '& tr.quiet td': { color: vars.palette.text.secondary },
        }),
      },
    },
    MuiTableCell: {
      styleOverrides: {
        root: ({ theme: { vars } }) => ({
          height: 44,
          padding: '4px 8px',
          fontSize: '1rem',
          lineHeight: 1.4,
          borderBottom: `1px solid ${vars.palette.divider}`,
          '&.MuiTableCell-alignRight': { fontVariantNumeric: 'tabular-nums' },
          'th&, &.MuiTableCell-head': { fontWeight: 700 },
        }),
        stickyHeader: ({ theme: { vars } }) => ({ background: vars.palette.background.paper }),
      },
    },
    MuiAlert: {
      defaultProps: { variant: 'outlined' },
      styleOverrides: {
        root: ({ theme: { vars } }) => ({ color: vars.palette.text.primary, fontSize: '1rem' }),
      },
    },
    MuiCssBaseline: {
      styleOverrides: (themeParam) => ({
        ':focus-visible': {
          outline: `3px solid ${themeParam.vars.palette.primary.main}`,
          outlineOffset: 2,
        },
        a: { color: themeParam.vars.palette.primary.main },
        '@media (prefers-reduced-motion: reduce)': {
          '*': { transition: 'none !important', animation: 'none !important' },
        },
      }),
    },
  },
});
