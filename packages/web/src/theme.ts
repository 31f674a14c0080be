import { type CSSVariablesResolver, createTheme, type MantineColorsTuple } from '@mantine/core';

/** Colours by role (docs/look.md); the only place where a colour of the interface is written down. */
const LIGHT = {
  paper: '#f7f5ef',
  card: '#ffffff',
  ink: '#1c2630',
  muted: '#5b6570',
  rule: '#ddd8cb',
  accent: '#0f5e6b',
  'accent-soft': '#e3edee',
  attention: '#8f590d',
  wrong: '#a23b2c',
  good: '#2c7350',
  well: '#ece7dc',
};

const DARK: typeof LIGHT = {
  paper: '#15191d',
  card: '#1d2328',
  ink: '#e8e6df',
  muted: '#a3abb2',
  rule: '#363d43',
  accent: '#6fc0cc',
  'accent-soft': '#22383c',
  attention: '#e0ac5d',
  wrong: '#e88d7e',
  good: '#7cc7a0',
  well: '#101316',
};

const petrol: MantineColorsTuple = [
  '#e8f3f4',
  '#d2e4e6',
  '#a5c9ce',
  '#75adb5',
  '#4f95a0',
  '#2f808c',
  '#0f5e6b',
  '#0c4e59',
  '#0a404a',
  '#07333b',
];

export const theme = createTheme({
  primaryColor: 'petrol',
  primaryShade: { light: 6, dark: 5 },
  colors: { petrol },
  defaultRadius: 6,
  // Menus and dialogs stand there at once for whoever has asked their system for less movement.
  respectReducedMotion: true,
  fontFamily: "'Source Sans 3', sans-serif",
  fontSizes: { xs: '12px', sm: '14px', md: '15px', lg: '17px', xl: '20px' },
  headings: { fontFamily: "'Source Serif 4', serif", fontWeight: '600' },
  components: {
    Button: { defaultProps: { size: 'sm' }, styles: { label: { fontWeight: 600 } } },
    // Lists of choices are popovers, too: the keyboard has to be able to leave them.
    Popover: { defaultProps: { shadow: 'md', withinPortal: true } },
    TextInput: { defaultProps: { size: 'sm' } },
    Select: { defaultProps: { size: 'sm', allowDeselect: false, withCheckIcon: false } },
  },
});

const variables = (roles: typeof LIGHT): Record<string, string> => ({
  ...Object.fromEntries(Object.entries(roles).map(([role, value]) => [`--c-${role}`, value])),
  '--mantine-color-body': roles.paper,
  '--mantine-color-text': roles.ink,
  '--mantine-color-default-border': roles.rule,
  '--mantine-color-default': roles.card,
  '--mantine-color-dimmed': roles.muted,
  '--mantine-color-error': roles.wrong,
});

export const resolver: CSSVariablesResolver = () => ({
  variables: {},
  light: variables(LIGHT),
  dark: variables(DARK),
});
