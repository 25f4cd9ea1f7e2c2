export interface Need {
  readonly what: string;
  readonly isThere: () => boolean;
  readonly packages: readonly string[];
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
  | 'sphinx'
  | 'mkdocs'
  | 'roundcube'
  | 'toolkit'
  | 'tracer'
  | 'wine';

export const NEEDS: Readonly<Record<NeedName, Need>>;
export function isHidden(name: NeedName): boolean;
export function has(name: NeedName): boolean;
export function missing(): NeedName[];
