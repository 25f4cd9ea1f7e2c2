import { homedir } from 'node:os';
import { isAbsolute, join } from 'node:path';
import type { Io } from './io.ts';

/** Where change plans are recorded: `$XDG_STATE_HOME/pionero/journal` (XDG Base Directory Specification 0.8), or below the system’s own place. */
export function journalFolder(env: Io['env']): string {
  return join(baseFolder('state', env), 'pionero', 'journal');
}

/** Where the engine keeps what it compiled: `$XDG_CACHE_HOME/pionero/code`. */
export function codeFolder(env: Io['env']): string {
  return join(baseFolder('cache', env), 'pionero', 'code');
}

/** Which commands of sites someone agreed to: `$XDG_STATE_HOME/pionero/agreed.json`. */
export function agreementsFile(env: Io['env']): string {
  return join(baseFolder('state', env), 'pionero', 'agreed.json');
}

/** Where people keep platform files of their own: `$XDG_CONFIG_HOME/pionero/platforms`. */
export function userPlatformFolder(env: Io['env']): string {
  return join(baseFolder('config', env), 'pionero', 'platforms');
}

/** Where findings are kept from one check to the next: `$XDG_CACHE_HOME/pionero/checks`. It can be deleted at any time. */
export function checkCacheFolder(env: Io['env']): string {
  return join(baseFolder('cache', env), 'pionero', 'checks');
}

/** The settings that you want in all your new themes: `$XDG_CONFIG_HOME/pionero/config.yaml`. */
export function userConfigurationFile(env: Io['env']): string {
  return join(baseFolder('config', env), 'pionero', 'config.yaml');
}

/** What catalogues know people by: `$XDG_CONFIG_HOME/pionero/tokens.yaml`, which nobody else may read. */
export function tokensFile(env: Io['env']): string {
  return join(baseFolder('config', env), 'pionero', 'tokens.yaml');
}

type BaseKind = 'state' | 'config' | 'cache';

/** Where systems that have places of their own for it keep what programs write for a person, besides the specification's: below home. */
const BASES: Readonly<Partial<Record<NodeJS.Platform, Readonly<Record<BaseKind, readonly [variable: string, below: string]>>>>> = {
  win32: {
    state: ['LOCALAPPDATA', 'AppData/Local'],
    config: ['APPDATA', 'AppData/Roaming'],
    cache: ['LOCALAPPDATA', 'AppData/Local'],
  },
  darwin: {
    state: ['', 'Library/Application Support'],
    config: ['', 'Library/Application Support'],
    cache: ['', 'Library/Caches'],
  },
};
const BASES_ELSEWHERE: Readonly<Record<BaseKind, readonly [variable: string, below: string]>> = {
  state: ['', '.local/state'],
  config: ['', '.config'],
  cache: ['', '.cache'],
};

/** The specification's variable goes first on every system; it has a path that is not absolute ignored. */
export function baseFolder(kind: BaseKind, env: Io['env'], platform: NodeJS.Platform = process.platform): string {
  const [variable, below] = (BASES[platform] ?? BASES_ELSEWHERE)[kind];
  const variableFolder = [env[`XDG_${kind.toUpperCase()}_HOME`], env[variable]].find((path) => path !== undefined && isAbsolute(path));
  return variableFolder ?? join(homedir(), below);
}
