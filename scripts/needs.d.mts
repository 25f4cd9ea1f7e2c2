export interface Need {
  readonly what: string;
  readonly isThere: () => boolean;
  readonly packages: readonly string[];
  readonly npm?: readonly string[];
}

export type NeedName =
  | 'unix'
  | 'links'
  | 'git'
  | 'shell'
  | 'make'
  | 'processes'
  | 'archivers'
  | 'python'
  | 'chromium'
  | 'neovim'
  | 'cluster'
  | 'sphinx'
  | 'manual'
  | 'mkdocs'
  | 'hexo'
  | 'marp'
  | 'roundcube'
  | 'mail'
  | 'toolkit'
  | 'tracer'
  | 'wine';

export const NPM_HOSTS: string;
export const NEEDS: Readonly<Record<NeedName, Need>>;
export function isHidden(name: NeedName): boolean;
export function has(name: NeedName): boolean;
export function missing(): NeedName[];
