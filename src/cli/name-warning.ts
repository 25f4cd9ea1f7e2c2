import { confusableOn } from '../core/placing/judge-id.ts';
import type { Platform } from '../core/platform/platform.ts';
import type { Shelves } from '../core/theme/shelf.ts';
import { namesInCatalogue } from './catalogue-access.ts';
import type { Context } from './command.ts';
import { confusableText } from './output/name-text.ts';

/** Says which names people could take for a new one, and whether the catalogue has it, before anything is called so. */
export async function warnOfName(context: Context, id: string, platform: Platform, shelves: Shelves): Promise<void> {
  const { paint } = context;
  const catalogue = (await namesInCatalogue(context, platform)) ?? [];
  if (catalogue.some((each) => each.toLowerCase() === id.toLowerCase()))
    context.say(`${paint.warn('▲')} The catalogue has a theme “${id}”: another name is needed before it is handed in.`);
  for (const each of confusableOn(id, platform, shelves, catalogue))
    context.say(`${paint.warn('▲')} “${id}” could be taken for another: ${confusableText(each)}.`);
}
