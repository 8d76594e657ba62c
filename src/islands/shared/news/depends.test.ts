import { describe, expect, it } from 'vitest';
import { dependsOn } from './depends';

describe('what is asked for again', () => {
  it.each([
    ['a bin of this project', ['bins', 'a'], { what: 'bins', projectId: 'a' }, 'a', true],
    ['its plan', ['plan', 'pull', 'a', {}], { what: 'bins', projectId: 'a' }, 'a', true],
    ['not the shelves for a bin', ['shelves'], { what: 'bins', projectId: 'a' }, 'a', false],
    ['not the bins of this project for those of another', ['bins', 'a'], { what: 'bins', projectId: 'b' }, 'a', false],
    ['the list of projects for another', ['projects'], { what: 'timelines', projectId: 'b' }, 'a', true],
    ['a plan, which may ask who else reads a file', ['plan', 'pull', 'a', {}], { what: 'clips', projectId: 'b' }, 'a', true],
    ['everything for a drive', ['bins', 'a'], { what: 'drives', projectId: null }, 'a', true],
    ['only schemes for a scheme', ['bins', 'a'], { what: 'schemes', projectId: null }, 'a', false],
    ['schemes for a scheme', ['schemes'], { what: 'schemes', projectId: null }, 'a', true],
    ['the list on a page about no project', ['projects'], { what: 'clips', projectId: 'b' }, null, true],
  ] as const)('%s', (_, key, change, here, expected) => expect(dependsOn(key, change, here)).toBe(expected));
});
