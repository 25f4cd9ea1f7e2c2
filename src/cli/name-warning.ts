import { confusableOn } from '../core/placing/judge-id.ts';
import type { Platform } from '../core/platform/platform.ts';
import type { Shelves } from '../core/theme/shelf.ts';
import type { Context } from './command.ts';
import { confusableText } from './output/name-text.ts';

/** Says which names people could take for a new one, before anything is called so. */
export function warnOfName(context: Context, id: string, platform: Platform, shelves: Shelves): void {
  const confusable = confusableOn(id, platform, shelves);
  for (const each of confusable) context.say(`${context.paint.warn('▲')} “${id}” could be taken for another: ${confusableText(each)}.`);
}
