/**
 * Makes the demo: drives in the simulated bay, media on them, the project with its timelines; then the damage that
 * real productions meet: a renamed folder, an unplugged drive, a deleted file, another take under the same name.
 */
import { copyFileSync, existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { join, resolve } from 'node:path';
import { rate } from '../src/core/time/rate';
import { readTimelineFile } from '../src/core/interchange/read-timeline-file';
import { HouseLock, HouseLocked } from '../src/server/catalogue/house-lock';
import { DriveBay } from '../src/server/devices/drive-bay';
import { House } from '../src/server/house';
import { bringIn } from '../src/server/projects/bring-in';
import { registerShelf } from '../src/server/stock/register-shelf';
import { clipOfItems } from '../src/server/projects/make-clip';
import { recordingOf } from '../src/core/media/companions';
import { fileName } from '../src/core/media/item';
import { addClips } from '../src/core/project/bins';
import { makeBundle, makeMedia, makeSound } from './make-media';
import { DRIVES, SOUNDS } from './media-script';
import { makeTowerUnit } from './tower-unit';
import { BUNDLE_TIMELINE, CUT_SHEET, SELECTS, SPARE_LIST, TIMELINE_FILES } from './timelines-script';
import { THIS_MACHINE } from '../src/server/runs/actor';
import { NO_RECORD } from '../src/core/media/shelf-kind';
import { takeStockOf } from '../src/server/usecases/shelves';
import type { ShelfMarker } from '../src/server/stock/marker';

/** What people noted of the drives. */
function describe({ catalogue }: House, id: string, name: string): void {
  if (name === 'TRAVEL-SSD') catalogue.shelves.setKind(id, 'travel');
  if (name === 'STUDIO-RAID') catalogue.shelves.note(id, { ...NO_RECORD, keptAt: 'Machine room', resilience: 'array' });
}

const folder = resolve(process.argv[2] ?? 'demo-data');
/** Only what bears this is the demo's own, and may be removed. */
const MARK = join(folder, 'mill-shelf-demo.txt');
const READY = join(folder, 'ready');

function isReady(): boolean {
  return existsSync(READY) && (existsSync(MARK) || isOlderDemo());
}

function refuse(message: string): never {
  console.error(message);
  process.exit(6);
}

/** An interrupted demo is begun anew; a folder of anybody else's and one in use stay as they are. */
function clear(): void {
  if (!existsSync(folder)) return;
  if (!statSync(folder).isDirectory()) refuse(`${folder} is no folder. Choose another with MILL_SHELF_DEMO.`);
  if (readdirSync(folder).length === 0) return;
  if (!existsSync(MARK) && !isOlderDemo())
    refuse(`${folder} holds files that are not the demo's. Choose an empty or a new folder with MILL_SHELF_DEMO; nothing was removed.`);
  const data = join(folder, 'data');
  if (existsSync(data)) {
    try {
      new HouseLock(data).release();
    } catch (error) {
      refuse(error instanceof HouseLocked ? `${error.message} Nothing was removed.` : `The demo cannot be made anew: ${(error as Error).message}`);
    }
  }
  rmSync(folder, { recursive: true, force: true });
}

/** Demos of earlier versions bear no mark, but have these and nothing else. */
function isOlderDemo(): boolean {
  const names = readdirSync(folder);
  return names.includes('bay') && names.includes('data') && names.every((name) => ['bay', 'data', 'elsewhere', 'ready'].includes(name));
}

if (!isReady() || process.argv.includes('--fresh')) clear();
if (isReady()) {
  console.log('The demo data is there already (npm run demo -- --fresh makes it anew).');
} else {
  const began = Date.now();
  console.log('Making the demo production "Bronze Hour" …');
  mkdirSync(folder, { recursive: true });
  writeFileSync(MARK, 'Made by "npm run demo" of Mill Shelf. The folder is emptied when the demo is made anew.\n');
  await makeDemo();
  writeFileSync(READY, '');
  console.log(`Made in ${Math.round((Date.now() - began) / 1000)} s.`);
}

async function makeDemo(): Promise<void> {
  const bayFolder = join(folder, 'bay');
  const bay = new DriveBay(bayFolder);
  for (const drive of DRIVES) bay.add(drive);
  const driveFolder = (name: string) => join(bay.pluggedFolder, name);
  await makeMedia(driveFolder);
  const timelineFolder = join(driveFolder('STUDIO-RAID'), 'Timelines');
  mkdirSync(timelineFolder, { recursive: true });
  for (const file of TIMELINE_FILES) writeFileSync(join(timelineFolder, file.name), file.text);
  writeFileSync(join(timelineFolder, 'teaser.edl'), SPARE_LIST);
  writeFileSync(join(timelineFolder, 'selects.csv'), SELECTS);
  writeFileSync(join(timelineFolder, 'other_ending.cutsheet'), CUT_SHEET);
  await makeBundle(join(timelineFolder, 'ring_test.otioz'), BUNDLE_TIMELINE);

  const elsewhere = join(folder, 'elsewhere');
  mkdirSync(elsewhere, { recursive: true });
  await makeTowerUnit(join(elsewhere, 'TOWER-CARDS'));
  const house = new House({
    dataFolder: join(folder, 'data'),
    roots: [bay.pluggedFolder, elsewhere],
    host: '127.0.0.1',
    names: [],
    port: 0,
    checkOnly: false,
    logLevel: 'warn',
    bayFolder,
    watch: false,
  });
  const shelves = DRIVES.map((drive) => registerShelf(house.catalogue, house.mounts, driveFolder(drive.name)));
  for (const { id, name } of shelves) describe(house, id, name);
  const stocktake = async (shelf: ShelfMarker) => house.runner.finished(await takeStockOf(house, THIS_MACHINE, shelf));
  for (const shelf of shelves) await stocktake(shelf);

  const project = { id: randomUUID(), name: 'Bronze Hour', rate: rate(25), dropFrame: false, createdAt: new Date().toISOString() };
  house.catalogue.projects.add(project);
  for (const file of TIMELINE_FILES)
    bringIn(house.catalogue, house.mounts, project.id, readTimelineFile(file.text, project.rate), file.name, null, randomUUID);

  // A second unit whose cards nobody has put on the list yet, and a project for it that is still empty.
  house.catalogue.projects.add({ ...project, id: randomUUID(), name: 'Tower unit' });
  makeInterviewClip(house, project.id, shelves.find((shelf) => shelf.name === 'FOUNDRY-A')!.id);
  writeBridges();

  await damage(driveFolder, bay);
  for (const shelf of shelves) if (house.mounts.rootOf(shelf.id)) await stocktake(shelf);
  await house.close();
}

/** Picture and two sound files of one recording become one clip. */
function makeInterviewClip(house: House, projectId: string, shelfId: string): void {
  const items = house.catalogue.items.onShelf(shelfId);
  const picture = items.find((item) => fileName(item.place.path) === 'A003_C001.mov')!;
  const clip = {
    ...clipOfItems(recordingOf(picture, items), 'Interviews', randomUUID),
    name: 'The founder',
    note: 'Use the lapel sound from 10:02:04 on.',
  };
  house.catalogue.bins.ensure(projectId, 'Interviews');
  house.catalogue.bins.edit(projectId, 'Make 1 clip of items', addClips([clip]));
}

/** One outside command, to show how a format of one's own comes in. */
function writeBridges(): void {
  const command = [process.execPath, resolve('demo/bridge-cut-sheet.mjs'), '{input}', '{output}'];
  const bridges = [{ name: 'Foundry cut sheet', endings: ['.cutsheet'], command, timeLimitSeconds: 20 }];
  writeFileSync(join(folder, 'data/bridges.json'), `${JSON.stringify({ bridges }, null, 2)}\n`);
}

async function damage(driveFolder: (name: string) => string, bay: DriveBay): Promise<void> {
  const raid = driveFolder('STUDIO-RAID');
  // Somebody kept a copy of one recording before the sound drive left the house.
  mkdirSync(join(raid, 'From sound'), { recursive: true });
  copyFileSync(join(driveFolder('SOUND-CART'), '0314/SC-0314-11.wav'), join(raid, 'From sound/SC-0314-11.wav'));
  renameSync(join(driveFolder('FOUNDRY-A'), 'Day 1 rushes'), join(driveFolder('FOUNDRY-A'), 'Day 1 camera originals'));
  rmSync(join(driveFolder('FOUNDRY-B'), 'Camera B/B_0419_clay.mp4'));
  const music = SOUNDS.find((sound) => sound.path.endsWith('mix4.wav'))!;
  rmSync(join(raid, music.path));
  await makeSound({ ...music, seconds: 57, tone: 131 }, join(raid, music.path));
  bay.setPlugged('SOUND-CART', false);
}
