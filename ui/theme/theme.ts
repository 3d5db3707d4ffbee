/** Colours by what they are for. Text and accents reach 4.5:1 on every ground of their theme. */
export interface Theme {
  name: 'light' | 'dark';
  page: string;
  card: string;
  raised: string;
  desk: string;
  rule: string;
  /** Edges of controls: 3:1 on every ground. */
  edge: string;
  text: string;
  quiet: string;
  accent: string;
  onAccent: string;
  chosen: string;
  warning: string;
  onWarning: string;
}

export const LIGHT: Theme = {
  name: 'light',
  page: '#F6F1E7',
  card: '#FBF7EF',
  raised: '#FFFDF8',
  desk: '#E4DCCD',
  rule: '#D8CDB9',
  edge: '#867B66',
  text: '#1D2433',
  quiet: '#4E5563',
  accent: '#17605C',
  onAccent: '#FFFDF8',
  chosen: '#E8EAE2',
  warning: '#A03B22',
  onWarning: '#FFFDF8',
};

export const DARK: Theme = {
  name: 'dark',
  page: '#1B1E25',
  card: '#22262E',
  raised: '#2A2F38',
  desk: '#14161B',
  rule: '#3A404B',
  edge: '#7C8494',
  text: '#F1EBDF',
  quiet: '#B6B3AA',
  accent: '#7CC6BE',
  onAccent: '#10201F',
  chosen: '#2B3A3C',
  warning: '#F0A28C',
  onWarning: '#2A120B',
};

/** Families that come with the page (scripts/fonts.mjs), and what stands in for them until they are there. */
export const FONT = {
  heading: 'YoungSerif_400Regular, ui-serif, Georgia, serif',
  body: 'HankenGrotesk_400Regular, system-ui, sans-serif',
  strong: 'HankenGrotesk_600SemiBold, system-ui, sans-serif',
} as const;

/** The smallest side of anything that is touched. */
export const TOUCH = 44;
export const RADIUS = 6;
/** From this width on the columns stand beside the paper. */
export const WIDE = 900;

/** What is drawn over the paper: that is light whatever the theme; on dark ink it has a light edge beside it. */
export const ON_PAPER = '#17605C';
export const ON_PAPER_EDGE = 'rgba(255, 255, 255, 0.8)';
