/** What does not fit on a screen: run in the page, it answers in words. */

/** Names of pieces that stand outside of the window, out of their box, or whose text is cut without an ellipsis. */
export function overflowing(): string[] {
  const found = new Set<string>();
  const name = (node: Element) => {
    const words = (node.getAttribute('aria-label') ?? node.textContent ?? '').trim().slice(0, 40);
    return `${node.tagName.toLowerCase()}.${[...node.classList].filter((entry) => !/^m_|^mantine-/.test(entry)).join('.')} "${words}"`;
  };
  const isShown = (node: HTMLElement) => node.checkVisibility({ checkVisibilityCSS: true }) && node.closest('[inert], [aria-hidden=true]') === null;
  /** What is scrolled to is not out of the window. */
  const scrolls = (node: Element, way: 'X' | 'Y') => {
    for (let at = node.parentElement; at; at = at.parentElement) {
      const style = getComputedStyle(at)[`overflow${way}`];
      if (style === 'auto' || style === 'scroll') return true;
    }
    return false;
  };
  const root = document.scrollingElement!;
  if (root.scrollWidth > root.clientWidth) found.add(`the page is ${root.scrollWidth} wide in ${root.clientWidth}`);
  if (root.scrollHeight > root.clientHeight && document.querySelector('.frame, .projects-page'))
    found.add(`the page is ${root.scrollHeight} high in ${root.clientHeight}`);
  const wanted =
    'button, a, input, select, textarea, h1, [role=tab], [role=button], .lead, .big, dt, dd, .note, th, td, .strip > *, .rail a, [role=columnheader], [role=gridcell]';
  for (const node of document.querySelectorAll<HTMLElement>(wanted)) {
    if (!isShown(node)) continue;
    const box = node.getBoundingClientRect();
    if (box.width < 2 || box.height < 2) continue;
    // Visually hidden inputs have their own pictures beside them.
    if (node.matches('input') && Number(getComputedStyle(node).opacity) === 0) continue;
    if ((box.right > innerWidth + 1 || box.left < -1) && !scrolls(node, 'X')) found.add(`outside at the side: ${name(node)}`);
    if ((box.bottom > innerHeight + 1 || box.top < -1) && !scrolls(node, 'Y')) found.add(`outside above or below: ${name(node)}`);
    const style = getComputedStyle(node);
    const isCut = node.scrollWidth > node.clientWidth + 1 && style.overflowX !== 'visible' && !['auto', 'scroll'].includes(style.overflowX);
    if (isCut && style.textOverflow !== 'ellipsis' && !node.matches('input, textarea') && node.querySelector('*') === null)
      found.add(`cut: ${name(node)}`);
    // Words that run over what stands beside them.
    if (
      node.matches('button, h1, .lead, dt, dd, a') &&
      style.overflowX === 'visible' &&
      node.scrollWidth > node.clientWidth + 2 &&
      style.display !== 'inline'
    )
      found.add(`runs over: ${name(node)}`);
  }
  return [...found];
}

/** Rows of each list that are wholly in sight, by its name; and how many there are. */
export function rowsInSight(): { name: string; inSight: number; rows: number; stageScrolls: boolean }[] {
  return [...document.querySelectorAll<HTMLElement>('[role=grid]')].map((grid) => {
    const own = grid.getBoundingClientRect();
    // As far as the list itself reaches: the stage is scrolled to it.
    const inSight = Math.floor((own.height - 30 + 1) / 34);
    return {
      name: grid.getAttribute('aria-label') ?? '',
      inSight,
      rows: Number(grid.getAttribute('aria-rowcount')) - 1,
      stageScrolls: document.querySelector('.stage')!.scrollHeight > document.querySelector('.stage')!.clientHeight,
    };
  });
}
