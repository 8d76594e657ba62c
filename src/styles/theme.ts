/** Mantine wears the paper: its colours and measures come from tokens.css. */
import { Button, createTheme, Modal, type CSSVariablesResolver, type MantineColorsTuple } from '@mantine/core';

const spruce: MantineColorsTuple = ['#eef5f2', '#d9e8e2', '#b5d2c7', '#8db8aa', '#689f90', '#458677', '#2f7264', '#1f5e54', '#184b43', '#103730'];

/** What would be lost or stands in the way is brick, in buttons and errors too. */
const brick: MantineColorsTuple = ['#fbeeea', '#f6ddd5', '#edbfb1', '#e09c87', '#d27a60', '#c05c42', '#ae4830', '#9f3b27', '#84301f', '#6a2618'];

export const theme = createTheme({
  primaryColor: 'spruce',
  primaryShade: { light: 7, dark: 6 },
  colors: { spruce, red: brick },
  fontFamily: 'var(--text)',
  fontFamilyMonospace: 'var(--mono)',
  defaultRadius: 8,
  fontSizes: { xs: '12px', sm: '13.5px', md: '14px', lg: '16px', xl: '20px' },
  autoContrast: true,
  cursorType: 'pointer',
  components: {
    // No smaller than a finger or a shaky hand can hit (WCAG 2.2, 2.5.8).
    Button: Button.extend({ vars: (_theme, { size }) => ({ root: size === 'compact-xs' ? { '--button-height': '24px' } : {} }) }),
    Modal: Modal.extend({ defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } }),
    Notification: { defaultProps: { closeButtonProps: { 'aria-label': 'Close this notice' } } },
    Checkbox: { defaultProps: { radius: 4 } },
    SegmentedControl: { styles: { root: { background: 'var(--sunk)' }, indicator: { background: 'var(--paper)' }, label: { color: 'var(--ink)' } } },
  },
});

const shared = {
  '--mantine-color-body': 'var(--paper)',
  '--mantine-color-text': 'var(--ink)',
  '--mantine-color-dimmed': 'var(--soft)',
  '--mantine-color-default': 'var(--paper)',
  '--mantine-color-default-hover': 'var(--paper-2)',
  '--mantine-color-default-color': 'var(--ink)',
  '--mantine-color-default-border': 'var(--line)',
  '--mantine-color-placeholder': 'var(--soft)',
  '--mantine-color-error': 'var(--brick)',
};

export const cssVariablesResolver: CSSVariablesResolver = () => ({ variables: {}, light: shared, dark: shared });
