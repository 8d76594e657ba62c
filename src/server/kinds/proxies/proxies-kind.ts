import { planProxies, type ProxyDetail } from '../../../core/planning/proxies/proxies';
import type { RenditionsAway } from '../../../core/planning/proxies/rendition-changes';
import { proxyForm, type ProxySettings } from '../../../core/planning/proxies/settings';
import { timelinesNamed } from '../../../core/planning/taking/clip-scope';
import { atHome } from '../../../core/rendition/homes';
import { presetOf } from '../../../core/rendition/presets';
import { installedEncoders } from '../../media/encoders';
import type { ChangeMaker } from '../../actions/step-context';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';
import { standingIn } from '../standing';
import { proxyWindow } from './proxy-windows';
import { plural } from '../../../core/words/figures';

const renditionsAway: ChangeMaker<RenditionsAway> = {
  make({ renditionIds }, { catalogue }) {
    const went = catalogue.clips.removeRenditions(renditionIds);
    return { bytes: 0, checked: plural(went, 'rendition') };
  },
};

export const proxiesKind = defineKind<ProxySettings, ProxyDetail>()({
  form: proxyForm,
  undoable: true,
  isKept: true,
  rows: { sorts: ['name', 'size'], of: proxyWindow },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  changes: { 'renditions-away': renditionsAway },
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, timelinesNamed(settings.scope));
    const { destination, folderName } = atHome(settings, snapshot.project.homes?.[presetOf(settings.presetId).for]);
    const machine = {
      paces: asked.catalogue.paces.all(),
      encoders: await installedEncoders(),
      samples: asked.catalogue.paces.samples(),
    };
    return planProxies(
      snapshot,
      settings,
      standingIn(asked.mounts, destination, folderName, 64),
      machine,
      asked.catalogue.outcomes.renditionsOnTheWay(),
    );
  },
});
