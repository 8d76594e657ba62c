/** Menus that Escape closes from the moment they open: the keyboard comes into them a moment later, and keys may be faster. */
import { useEffect, useState } from 'react';
import { Menu as PlainMenu, type MenuProps } from '@mantine/core';

function QuickMenu(props: Omit<MenuProps, 'opened' | 'onChange'>) {
  const [isOpen, setOpen] = useState(false);
  useEffect(() => {
    if (!isOpen) return;
    const close = (event: KeyboardEvent) => {
      const isInMenu = event.target instanceof Element && event.target.closest('[data-menu-dropdown]') !== null;
      if (event.key !== 'Escape' || isInMenu) return;
      event.stopPropagation();
      setOpen(false);
    };
    document.addEventListener('keydown', close, true);
    return () => document.removeEventListener('keydown', close, true);
  }, [isOpen]);
  return <PlainMenu {...props} opened={isOpen} onChange={setOpen} />;
}

export const Menu = Object.assign(QuickMenu, {
  Target: PlainMenu.Target,
  Dropdown: PlainMenu.Dropdown,
  Item: PlainMenu.Item,
  Label: PlainMenu.Label,
});
