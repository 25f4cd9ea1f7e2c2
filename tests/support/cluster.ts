import { randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { delimiter } from 'node:path';
import { onTestFinished } from 'vitest';
import { need, runTool } from './needs.ts';
import { PROGRAM, type Workplace } from './program.ts';
import { writeFiles } from './trees.ts';

const NODES = [
  ['cierzo', 26_818],
  ['lumbre', 26_819],
] as const;

/** A cluster of two nodes on this machine, that have the program on their path, until the test is over. */
export class Cluster {
  readonly #env: NodeJS.ProcessEnv;
  readonly #folder: string;
  readonly #place: Workplace;

  constructor(place: Workplace) {
    need('cluster');
    this.#place = place;
    this.#folder = place.path('cluster');
    const file = `${this.#folder}/slurm.conf`;
    this.#env = { ...place.env, SLURM_CONF: file, PATH: [place.path('cluster/bin'), process.env['PATH']].join(delimiter) };
    writeFiles(this.#folder, { 'run/.keep': '', 'state/.keep': '', 'slurm.conf': this.#configuration() });
    mkdirSync(place.path('cluster/bin'));
    writeFileSync(place.path('cluster/bin/pionero'), `#!/bin/sh\nexec "${process.execPath}" "${PROGRAM}" "$@"\n`, { mode: 0o755 });
    writeFileSync(`${this.#folder}/munge.key`, randomBytes(1024), { mode: 0o400 });
    const munge = ['key-file=munge.key', 'socket=run/munge.socket', 'pid-file=run/munged.pid', 'log-file=munged.log', 'seed-file=run/seed'];
    // First of all: who fails to start the others must still end this one.
    onTestFinished(() => this.#end());
    this.run('munged', '--force', ...munge.map((each) => `--${each.replace('=', `=${this.#folder}/`)}`));
    this.run('slurmctld');
    for (const [name] of NODES) this.run('slurmd', '-N', name);
  }

  /** Runs one of the cluster's programs, or a script that does, in the place. @returns what it printed */
  run(program: 'munged' | 'slurmctld' | 'slurmd' | 'scontrol' | 'squeue' | 'sh', ...args: string[]): string {
    const { status, stdout, stderr } = runTool(program, args, { env: this.#env, cwd: this.#place.folder });
    if (status !== 0) throw new Error(`${program} ${args.join(' ')} ended with ${status}: ${stderr}${stdout}`);
    return stdout;
  }

  /** The jobs that wait or run, each with its state: `1_2 R`. */
  jobs(): string[] {
    return this.run('squeue', '--noheader', '--array', '--format', '%i %t').trim().split('\n').filter(Boolean);
  }

  /** What its programs, and the jobs, had to say. */
  log(): string {
    return this.run('sh', '-c', 'tail -n 30 *.log cluster/*.log');
  }

  #end(): void {
    for (const name of [...NODES.map(([node]) => `slurmd-${node}`), 'slurmctld', 'munged']) {
      try {
        process.kill(Number(readFileSync(`${this.#folder}/run/${name}.pid`, 'utf8')), 'SIGKILL');
      } catch {
        // It was never there.
      }
    }
  }

  #configuration(): string {
    const at = this.#folder;
    return `ClusterName=huts
SlurmctldHost=localhost(127.0.0.1)
SlurmctldPort=26817
SlurmUser=root
SlurmdUser=root
AuthType=auth/munge
AuthInfo=socket=${at}/run/munge.socket
CredType=cred/munge
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
SwitchType=switch/none
MpiDefault=none
ReturnToService=2
StateSaveLocation=${at}/state
SlurmdSpoolDir=${at}/spool-%n
SlurmctldPidFile=${at}/run/slurmctld.pid
SlurmdPidFile=${at}/run/slurmd-%n.pid
SlurmctldLogFile=${at}/slurmctld.log
SlurmdLogFile=${at}/slurmd-%n.log
SelectType=select/cons_tres
SelectTypeParameters=CR_Core
${NODES.map(([name, port]) => `NodeName=${name} NodeHostname=localhost NodeAddr=127.0.0.1 Port=${port} CPUs=1`).join('\n')}
PartitionName=huts Nodes=ALL Default=YES MaxTime=INFINITE State=UP
`;
  }
}
