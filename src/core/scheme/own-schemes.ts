/** Schemes that come with the application. They are changed by duplicating them. */
import type { Rule } from './rule';
import type { Scheme, SchemeFolder } from './scheme';

function folder(id: string, name: string, rule: Rule | null, folders: readonly SchemeFolder[] = []): SchemeFolder {
  return { id, name, rule, folders };
}

const PAPERS = folder('papers', 'Papers', { names: ['*.pdf', '*.txt', '*.md', '*.doc', '*.docx', '*.csv', '*.html'] });
const LOOKS = folder('looks', 'Looks', { names: ['*.cube', '*.3dl', '*.look', '*.cdl', '*.ccc'] });

const DOCUMENTARY: Scheme = {
  id: 'own-documentary',
  name: 'Documentary',
  about: 'Pictures and sound by the day they were shot, everything found and given apart.',
  folders: [
    folder('pictures', 'Pictures', null, [
      folder('found', 'Found footage', { kinds: ['video', 'sequence'], bins: ['Archive', 'Found footage'] }),
      folder('shot', '{day}', { kinds: ['video', 'sequence'] }, [folder('reel', '{reel}', { reels: ['?*'] })]),
      folder('stills', 'Stills', { kinds: ['still'] }),
    ]),
    folder('sound', 'Sound', { kinds: ['audio'] }, [
      folder('music', 'Music', { names: ['MUS_*', '*music*', '*score*'] }),
      folder('recorder', '{day}', { reels: ['?*'] }),
    ]),
    LOOKS,
    PAPERS,
    folder('exports', 'Exports', null),
  ],
  rest: 'To sort',
};

const COMMERCIAL: Scheme = {
  id: 'own-commercial',
  name: 'Commercial',
  about: 'By camera and reel; graphics, sound and what clients send apart.',
  folders: [
    folder('camera', '01 Camera', { kinds: ['video'] }, [
      folder('by-camera', '{camera}', { cameras: ['?*'] }, [folder('reel', '{reel}', { reels: ['?*'] })]),
    ]),
    folder('graphics', '02 Graphics', { kinds: ['still', 'sequence'] }),
    folder('sound', '03 Sound', { kinds: ['audio'] }),
    folder('client', '04 From the client', { names: ['*.pdf', '*.pptx', '*.key', '*.docx', '*.txt'] }),
    LOOKS,
    folder('out', '05 Deliveries', null, [folder('out-review', 'For review', null), folder('out-final', 'Final', null)]),
  ],
  rest: '99 To sort',
};

const SERIES: Scheme = {
  id: 'own-series',
  name: 'Series',
  about: 'After scenes and takes where recorders wrote them, after reels where not.',
  folders: [
    folder('rushes', 'Rushes', { kinds: ['video', 'sequence'] }, [
      folder('rushes-day', '{day}', {}, [folder('rushes-reel', '{camera}_{reel}', { reels: ['?*'] })]),
    ]),
    folder('location', 'Location sound', { kinds: ['audio'], reels: ['?*'] }, [folder('location-day', '{day}', {})]),
    folder('library', 'Sound library', { kinds: ['audio'] }),
    folder('design', 'Titles and stills', { kinds: ['still'] }),
    LOOKS,
    PAPERS,
    folder('turnover', 'Turnovers', null, [folder('to-sound', 'To sound', null), folder('to-grade', 'To grade', null)]),
  ],
  rest: 'To sort',
};

export const OWN_SCHEMES: readonly Scheme[] = [DOCUMENTARY, COMMERCIAL, SERIES];
