import { describe, expect, it } from 'vitest';
import { linkStep, type Step } from './step';
import type { KeptText, PlanText } from './plan-text';
import { LONG_TEXT, withTextsApart } from './texts-apart';

const LONG = 'läute '.repeat(LONG_TEXT / 6 + 1);
const write = (content: Extract<Step, { action: 'write' }>['content']): Step => ({ action: 'write', phase: 1, from: null, to: { shelfId: 's', path: 'a' }, expectedBytes: 1, bytesExact: true, reason: '', mustHold: null, content }); // prettier-ignore
const adopt = (texts: readonly PlanText[]) => linkStep(2, '', { type: 'adopt', timelines: texts.map((text) => ({ name: 'n', folder: 't', text, parts: [] })) } as never); // prettier-ignore
const STEPS: readonly Step[] = [
  write({ type: 'text', text: LONG }),
  write({ type: 'timeline', text: `${LONG}!`, parts: [] }),
  write({ type: 'zip', entries: [{ path: 'version.txt', text: '1' }, { path: 'content.otio', text: LONG }, { path: 'a.mov', from: { shelfId: 's', path: LONG }, sizeBytes: 1, mustHold: null }] }), // prettier-ignore
  adopt([LONG, 'short', `${LONG}?`]),
];

describe('long texts of steps', () => {
  it('are kept apart wherever they stand, and put back make the very step', () => {
    for (const step of STEPS) {
      const kept: string[] = [];
      const apart = withTextsApart(step, (text) => ({ kept: String(kept.push(text) - 1) }));
      expect(JSON.stringify(apart).length).toBeLessThan(step === STEPS[2] ? LONG.length + 2000 : 2000);
      const back = JSON.parse(JSON.stringify(apart), (key, value: unknown) => (key === 'text' && typeof value === 'object' ? kept[Number((value as KeptText).kept)] : value)) as Step; // prettier-ignore
      expect(back).toEqual(step);
      // What is apart already stays as it is.
      expect(withTextsApart(apart, () => expect.unreachable())).toEqual(apart);
    }
  });

  it('short ones stay, and steps without any are the same', () => {
    const same: readonly Step[] = [
      write({ type: 'text', text: 'x'.repeat(LONG_TEXT - 1) }),
      write({ type: 'made', what: 'bag-manifest', root: '', label: { text: LONG } }),
      linkStep(1, LONG, { type: 'relink', timelines: 3 } as never),
      linkStep(1, '', { type: 'relink', timelines: [LONG, null, { text: LONG }] } as never),
    ];
    for (const step of same) expect(withTextsApart(step, () => expect.unreachable())).toEqual(step);
  });
});
