/// <reference types="astro/client" />

declare module '@tabler/icons-react/dist/esm/icons/*.mjs' {
  import type { TablerIcon } from '@tabler/icons-react';
  const icon: TablerIcon;
  export default icon;
}
