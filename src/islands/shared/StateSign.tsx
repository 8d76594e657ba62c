import type { LinkState } from '../../core/project/clip';
import { IconByProxy, IconChanged, IconDamaged, IconMadeHere, IconMissing, IconNotRead, IconPresent, IconSetAside, IconUnplugged } from './icons';

type Shown = LinkState | 'made-here';

const SIGNS: Record<Shown, { icon: typeof IconPresent; colour: string; word: string }> = {
  present: { icon: IconPresent, colour: 'var(--spruce)', word: 'present' },
  unplugged: { icon: IconUnplugged, colour: 'var(--ochre)', word: 'unplugged' },
  missing: { icon: IconMissing, colour: 'var(--brick)', word: 'missing' },
  changed: { icon: IconChanged, colour: 'var(--brick)', word: 'changed' },
  damaged: { icon: IconDamaged, colour: 'var(--brick)', word: 'damaged' },
  'set-aside': { icon: IconSetAside, colour: 'var(--soft)', word: 'set aside' },
  'by-proxy': { icon: IconByProxy, colour: 'var(--plum)', word: 'by proxy' },
  'not-read': { icon: IconNotRead, colour: 'var(--dusk)', word: 'not read' },
  'made-here': { icon: IconMadeHere, colour: 'var(--soft)', word: 'no media' },
};

export function stateColour(state: Shown): string {
  return SIGNS[state].colour;
}

/** The sign of a link state; with its word unless `bare`, where the word is its title. */
export function StateSign({ state, bare = false }: { state: Shown; bare?: boolean }) {
  const { icon: Icon, colour, word } = SIGNS[state];
  return (
    <span className="sign" title={bare ? word : undefined}>
      <Icon size={13} color={colour} aria-hidden={!bare} aria-label={bare ? word : undefined} role={bare ? 'img' : undefined} />
      {!bare && word}
    </span>
  );
}
