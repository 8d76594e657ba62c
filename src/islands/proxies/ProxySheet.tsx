import { Button, Checkbox, NumberInput, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { ProxyDetail } from '../../core/planning/proxies/proxies';
import type { ProxySettings } from '../../core/planning/proxies/settings';
import { BURN_LINES, type BurnIn, type BurnLine } from '../../core/rendition/burn-in';
import { samePlace } from '../../core/media/item';
import { atHome, rootOf, type Whereto } from '../../core/rendition/homes';
import type { PictureSize } from '../../core/rendition/picture-size';
import { PRESETS, type PresetId } from '../../core/rendition/presets';
import { Ask } from '../shared/Ask';
import { Choice } from '../shared/form/Choice';
import { plural } from '../shared/figures';
import { PlacePicker } from '../shared/PlacePicker';
import { SheetField } from '../shared/SheetField';
import { useAutomation } from './use-automation';
import { useProject } from '../shared/questions';
import type { PlanState } from '../shared/use-plan';
import { OwnPresets } from './OwnPresets';
import { SampleTable } from './SampleTable';
import { oneOrMany } from '../../core/words/figures';

const SIZES: readonly (readonly [string, string, PictureSize])[] = [
  ['full', 'Full size', { by: 'full' }],
  ['1080', '1080 lines', { by: 'lines', lines: 1080 }],
  ['720', '720 lines', { by: 'lines', lines: 720 }],
  ['540', '540 lines', { by: 'lines', lines: 540 }],
  ['360', '360 lines', { by: 'lines', lines: 360 }],
  ['÷2', 'Half of the source (÷2)', { by: 'share', share: 2 }],
  ['÷3', 'A third (÷3)', { by: 'share', share: 3 }],
  ['÷4', 'A quarter (÷4)', { by: 'share', share: 4 }],
  ['÷6', 'A sixth (÷6)', { by: 'share', share: 6 }],
  ['fit', 'Inside a frame', { by: 'fit', width: 1920, height: 1080 }],
];

const QUALITIES: readonly (readonly [number, string])[] = [
  [2, 'Much better than the preset'],
  [1, 'Better'],
  [0, 'Quality as the preset has it'],
  [-1, 'Smaller'],
  [-2, 'Much smaller'],
];

const LINE_WORDS: Record<BurnLine, string> = { clip: 'Clip name', timecode: 'Timecode', reel: 'Reel', frame: 'Frame number' };
const BURN_AT_FIRST: BurnIn = { lines: ['clip', 'timecode'], text: '', where: 'bottom', opacity: 0.8 };

interface Props {
  readonly projectId: string;
  readonly settings: ProxySettings;
  readonly onChange: (change: Partial<ProxySettings>) => void;
  readonly state: PlanState<ProxyDetail>;
  /** To where those that stand elsewhere are brought. */
  readonly onBring: (kind: 'proxy' | 'mezzanine', where: Whereto) => void;
}

/** In which codec and size, with what burned in, and where to. */
export function ProxySheet({ projectId, settings, onChange, state, onBring }: Props) {
  const { size, burnIn, quality } = settings;
  const [isAuto, setAuto] = useAutomation(projectId, 'proxies-after-stocktake', settings);
  const [isTrying, setTrying] = useState(false);
  const preset = PRESETS.find(({ id }) => id === settings.presetId)!;
  const { data: project } = useProject(projectId);
  const home = project?.homes[preset.for];
  const noun = preset.for === 'proxy' ? 'proxies' : 'mezzanines';
  const where = atHome(settings, home);
  const root = rootOf(where);
  const isHome = samePlace(root, home ?? null);
  const elsewhere = state.plan?.detail.elsewhere ?? 0;
  // What is the home needs no choice: should the home become another one, it is followed.
  const moveTo = (part: Partial<Whereto>) => {
    const next = { destination: where.destination, folderName: where.folderName, ...part };
    onChange(samePlace(rootOf(next), home ?? null) ? { destination: null } : next);
  };
  return (
    <>
      <SheetField label="How">
        <Choice<PresetId>
          label="Preset"
          options={PRESETS.map(({ id, name, for: kind, bitDepth }) => [id, `${name} · ${kind}, ${bitDepth}-bit`] as const)}
          value={settings.presetId}
          onChange={(presetId) => onChange({ presetId })}
        />
        <div className="soft preset-about">{preset.about}</div>
        <Choice
          label="Size of the picture"
          options={SIZES.map(([key, words]) => [key, words] as const)}
          value={keyOf(size)}
          onChange={(key) => onChange({ size: SIZES.find(([own]) => own === key)![2] })}
        />
        <Choice
          label="Quality against the preset"
          options={QUALITIES.map(([step, words]) => [String(step), words] as const)}
          value={String(quality)}
          onChange={(step) => onChange({ quality: Number(step) })}
        />
        {size.by === 'fit' && (
          <div className="controls">
            <Side label="Width of the frame" value={size.width} onChange={(width) => onChange({ size: { ...size, width } })} />
            <Side label="Height of the frame" value={size.height} onChange={(height) => onChange({ size: { ...size, height } })} />
          </div>
        )}
      </SheetField>
      <details className="more-choices" open={isTrying} onToggle={(event) => setTrying(event.currentTarget.open)}>
        <summary>what it would take</summary>
        {isTrying && state.plan?.detail.alternatives && (
          <SampleTable alternatives={state.plan.detail.alternatives} settings={settings} onChange={onChange} />
        )}
        {isTrying && state.plan && !state.plan.detail.alternatives && <p className="soft tight">Nothing is made, so there is nothing to try.</p>}
      </details>
      <OwnPresets projectId={projectId} settings={settings} onChange={onChange} />
      <SheetField label="Where to">
        <PlacePicker label="Destination shelf" value={where.destination} onChange={(destination) => moveTo({ destination })} />
        <Ask plan={state.plan} code="no-destination" />
        <TextInput
          size="xs"
          aria-label="Name of the folder"
          error={state.invalid.folderName}
          value={where.folderName}
          onChange={(event) => moveTo({ folderName: event.currentTarget.value })}
          classNames={{ input: 'mono-input' }}
        />
        <Ask plan={state.plan} code="no-folder-name" />
        <Choice
          label="Folders in it"
          options={[
            ['sources', 'Folders as their sources have'],
            ['reel', 'A folder for each reel'],
            ['clip', 'A folder for each clip'],
            ['flat', 'All in one folder'],
          ]}
          value={settings.layout}
          onChange={(layout) => onChange({ layout })}
        />
        {isHome ? (
          <div className="soft preset-about">The home of the {noun}.</div>
        ) : (
          <Checkbox
            size="xs"
            label={`The ${noun} are at home there from then on`}
            checked={settings.asHome}
            onChange={(event) => onChange({ asHome: event.currentTarget.checked })}
          />
        )}
        {root && elsewhere > 0 && (
          <div className="controls">
            <Button size="xs" variant="default" onClick={() => onBring(preset.for, where)}>
              Bring {plural(elsewhere, preset.for, noun)} that {oneOrMany(elsewhere, 'stands', 'stand')} elsewhere …
            </Button>
          </div>
        )}
      </SheetField>
      <details className="more-choices">
        <summary>
          {[
            settings.sound === 'two' ? 'two channels of sound' : 'all channels',
            ...(settings.slates ? ['missing pictures marked'] : []),
            ...(settings.alphaIsOwn ? ['graphics are their own'] : []),
            ...(settings.parts ? ['pulled parts too'] : []),
          ].join(', ')}
        </summary>
        <div className="sheet-ticks">
          <Checkbox
            size="xs"
            label="Only two channels of sound: its first ones"
            checked={settings.sound === 'two'}
            onChange={(event) => onChange({ sound: event.currentTarget.checked ? 'two' : 'all' })}
          />
          <Checkbox
            size="xs"
            label="Mark pictures that are missing in a sequence"
            checked={settings.slates}
            onChange={(event) => onChange({ slates: event.currentTarget.checked })}
          />
          <Checkbox
            size="xs"
            label="Graphics with alpha are their own proxies"
            checked={settings.alphaIsOwn}
            onChange={(event) => onChange({ alphaIsOwn: event.currentTarget.checked })}
          />
          <Checkbox
            size="xs"
            label="Pulled parts too, where their source is away"
            checked={settings.parts}
            onChange={(event) => onChange({ parts: event.currentTarget.checked })}
          />
        </div>
      </details>
      <Checkbox
        size="xs"
        label="Make what any clip lacks after a stocktake"
        checked={isAuto}
        onChange={(event) => setAuto(event.currentTarget.checked)}
      />
      <details className="more-choices">
        <summary>
          {burnIn
            ? `burned in: ${[...burnIn.lines.map((line) => LINE_WORDS[line].toLowerCase()), ...(burnIn.text ? ['text'] : [])].join(', ')}`
            : 'nothing burned in'}
        </summary>
        <div className="sheet-ticks">
          <Checkbox
            size="xs"
            label="Write into the picture"
            checked={burnIn !== null}
            onChange={(event) => onChange({ burnIn: event.currentTarget.checked ? BURN_AT_FIRST : null })}
          />
          {burnIn &&
            BURN_LINES.map((line) => (
              <Checkbox
                key={line}
                size="xs"
                ml={20}
                label={LINE_WORDS[line]}
                checked={burnIn.lines.includes(line)}
                onChange={(event) => {
                  const on = event.currentTarget.checked;
                  onChange({ burnIn: { ...burnIn, lines: on ? [...burnIn.lines, line] : burnIn.lines.filter((own) => own !== line) } });
                }}
              />
            ))}
        </div>
        {burnIn && (
          <div className="sheet-field">
            <TextInput
              size="xs"
              aria-label="Text of your own"
              placeholder="A text of your own"
              maxLength={120}
              value={burnIn.text}
              onChange={(event) => onChange({ burnIn: { ...burnIn, text: event.currentTarget.value } })}
            />
            <Choice
              label="Where in the picture"
              options={[
                ['bottom', 'At the bottom'],
                ['top', 'At the top'],
              ]}
              value={burnIn.where}
              onChange={(where) => onChange({ burnIn: { ...burnIn, where } })}
            />
            <NumberInput
              size="xs"
              aria-label="Opacity in percent"
              min={10}
              max={100}
              step={10}
              suffix=" % opaque"
              allowDecimal={false}
              value={Math.round(burnIn.opacity * 100)}
              onChange={(value) => typeof value === 'number' && onChange({ burnIn: { ...burnIn, opacity: value / 100 } })}
            />
          </div>
        )}
      </details>
    </>
  );
}

function keyOf(size: PictureSize): string {
  return size.by === 'lines' ? String(size.lines) : size.by === 'share' ? `÷${size.share}` : size.by;
}

function Side({ label, value, onChange }: { label: string; value: number; onChange: (value: number) => void }) {
  return (
    <NumberInput
      size="xs"
      flex={1}
      aria-label={label}
      min={16}
      max={16_384}
      allowDecimal={false}
      hideControls
      suffix=" px"
      value={value}
      onChange={(next) => typeof next === 'number' && next >= 16 && onChange(next)}
    />
  );
}
