import type { Reporter, TestModule } from 'vitest/node';
import { missing, NEEDS } from '../../scripts/needs.mjs';

/** Says last what was skipped, and the one command that brings what it needs. */
export default class SkippedReporter implements Reporter {
  onTestRunEnd(modules: readonly TestModule[]): void {
    const skipped = modules.reduce((sum, module) => sum + [...module.children.allTests('skipped')].length, 0);
    const lacking = missing().filter((name) => name !== 'tracer' && name !== 'wine');
    if (skipped === 0 || lacking.length === 0) return;
    const what = lacking.map((name) => `${NEEDS[name].what} (${name})`);
    console.log(`\n${skipped === 1 ? '1 test was' : `${skipped} tests were`} skipped: this machine lacks ${what.join(', ')}.`);
    console.log('→ npm run setup:hosts brings it, on Debian.\n');
  }
}
