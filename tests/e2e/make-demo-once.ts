import { execFileSync } from 'node:child_process';
import { MADE_DEMO } from '../helpers/demo-server';

export default function makeDemoOnce(): void {
  execFileSync(process.execPath, ['dist/make-demo.mjs', MADE_DEMO, ...(process.env.KEEP_DEMO ? [] : ['--fresh'])], { stdio: 'inherit' });
}
