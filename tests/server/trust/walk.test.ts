/** Random lives of a small house: whatever order things happen in, no word of the server may be untrue. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { WalkHouse } from '../../helpers/walk-house';

type Act = readonly [name: string, number];

const ACTS = [
  ['pull', 4],
  ['crate', 3],
  ['break off', 4],
  ['open crate', 1],
  ['relink', 1],
  ['undo', 3],
  ['pause', 2],
  ['resume', 4],
  ['cancel', 2],
  ['kill', 2],
  ['stocktake vault', 1],
  ['stocktake source', 2],
  ['unplug vault', 2],
  ['plug vault', 3],
  ['unplug source', 1],
  ['plug source', 2],
  ['change a source in place', 2],
  ['replace a source', 1],
  ['take a source away', 1],
  ['alter a copy', 1],
  ['take a copy away', 2],
  ['join the copies', 1],
  ['settle', 2],
] as const;

const act: fc.Arbitrary<Act> = fc.tuple(
  fc.oneof(...ACTS.map(([name, weight]) => ({ weight, arbitrary: fc.constant<string>(name) }))),
  fc.nat({ max: 11 }),
);

async function perform(house: WalkHouse, [name, n]: Act): Promise<void> {
  switch (name) {
    case 'pull':
      return house.pull(n, n % 2);
    case 'crate':
      return house.crate(n);
    case 'break off':
      return house.breakOff(n);
    case 'open crate':
      return house.openCrate(n);
    case 'relink':
      return house.relink();
    case 'undo':
      return house.undo(n % 4);
    case 'pause':
    case 'resume':
    case 'cancel':
      return house.order(name, n % 3);
    case 'kill':
      return house.killAndStart();
    case 'stocktake vault':
      return house.stocktake('VAULT');
    case 'stocktake source':
      return house.stocktake('FOUNDRY-A');
    case 'unplug vault':
      return house.plug('VAULT', false);
    case 'plug vault':
      return house.plug('VAULT', true);
    case 'unplug source':
      return house.plug('FOUNDRY-A', false);
    case 'plug source':
      return house.plug('FOUNDRY-A', true);
    case 'change a source in place':
      return house.changeSource(n, 'in place');
    case 'replace a source':
      return house.changeSource(n, 'replaced');
    case 'take a source away':
      return house.changeSource(n, 'taken away');
    case 'alter a copy':
      return house.changeVault(n, 'altered');
    case 'take a copy away':
      return house.changeVault(n, 'taken away');
    case 'join the copies':
      return house.changeVault(n, 'joined');
    default:
      return void (await house.settle());
  }
}

const walks = Number(process.env.MILL_WALKS ?? 1);

it(
  'every walk ends with a house whose words the disk bears out',
  async () => {
    let looked = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 8, maxLength: 24 }), async (acts) => {
        const house = new WalkHouse();
        try {
          await house.open();
          for (const [index, step] of acts.entries()) {
            house.log.push(step.join(' '));
            await perform(house, step);
            // Often in the middle of what is going on, now and then after it.
            if (index % 4 === 3) await house.check();
          }
          await house.check();
          looked++;
        } finally {
          await house.close();
        }
      }),
      // A walk takes seconds: a failing one is told as it is, with its seed.
      { numRuns: walks, endOnFailure: true },
    );
    expect(looked).toBe(walks);
  },
  60_000 * walks,
);
