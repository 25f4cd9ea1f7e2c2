import { trustedLayers } from '../core/configuration/configuration.ts';
import { tokenFor } from '../core/configuration/token-file.ts';
import { PioneroError, UsageError } from '../core/errors.ts';
import type { Platform } from '../core/platform/platform.ts';
import type { CatalogueClient } from '../core/web/catalogue-client.ts';
import type { Context } from './command.ts';
import { tokensFile } from './own-folders.ts';
import { themeAbove } from './theme-argument.ts';

/**
 * The address of the catalogue that is configured here; undefined when there is none.
 * @param themeFolder a theme’s own configuration never says where it is handed in: a token would go there
 */
export function catalogueAddress(context: Context, folder: string, themeFolder?: string): string | undefined {
  return trustedLayers(folder, themeFolder).find(({ catalogue }) => catalogue !== undefined)?.catalogue;
}

/** Speaks with the catalogue at an address, for whom the token says; the token is never printed. */
export async function catalogueAt(context: Context, address: string, signal?: AbortSignal): Promise<CatalogueClient> {
  const { env } = context.io;
  const token = env['PIONERO_TOKEN'] ?? tokenFor(tokensFile(env), address);
  const { CatalogueClient: Client } = await import('../core/web/catalogue-client.ts');
  return new Client({ address, token: token === '' ? undefined : token, signal });
}

/** Whether something says who one is there. */
export function isSenderKnown({ io: { env } }: Context, address: string): boolean {
  return (env['PIONERO_TOKEN'] ?? tokenFor(tokensFile(env), address) ?? '') !== '';
}

/** @throws UsageError when nothing says who sends */
export function refuseUnknownSender(context: Context, address: string): void {
  if (isSenderKnown(context, address)) return;
  const { env } = context.io;
  throw new UsageError({
    what: `there is no token for ${address}`,
    hint: `set PIONERO_TOKEN, or write “${address}: TOKEN” into ${tokensFile(env)} (chmod 600)`,
  });
}

/** So long a catalogue is waited for that is only asked by the way. */
const BRIEF_MS = 4000;

/**
 * The names that the catalogue has for a platform; none where no catalogue is configured; undefined, with a warning, when it is silent.
 * @param chosen an address in place of the configured one
 */
export async function namesInCatalogue(context: Context, platform: Platform, chosen?: string): Promise<readonly string[] | undefined> {
  // A theme’s own configuration has nobody asked.
  const address = chosen ?? catalogueAddress(context, context.io.folder, themeAbove(context.io.folder, context));
  if (address === undefined) return [];
  try {
    const { CatalogueClient: Client } = await import('../core/web/catalogue-client.ts');
    const client = new Client({ address, patience: BRIEF_MS, attempts: 1 });
    const vendors = platform.contract.vendor !== undefined;
    // Where there are vendors, a name is VENDOR.ID there.
    return (await client.names(platform.contract.name)).map((name) => (vendors ? name.replace(/^[^.]*\./, '') : name));
  } catch (error) {
    if (!(error instanceof PioneroError)) throw error;
    context.warn(
      `${context.paint.warn('▲')} The catalogue was not asked: ${error.what}${error.why === undefined ? '' : ` (${error.why})`}.`,
    );
    return undefined;
  }
}
