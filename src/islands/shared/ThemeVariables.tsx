import { MantineProvider } from '@mantine/core';
import { cssVariablesResolver, theme } from '../../styles/theme';

/** The theme's variables as a style element, so that the page has its colours before any script runs. */
export default function ThemeVariables() {
  return <MantineProvider theme={theme} cssVariablesResolver={cssVariablesResolver} defaultColorScheme="auto" children={null} />;
}
