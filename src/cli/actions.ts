import type { ActionFacts, CommandArgument } from './command.ts';
import { UsageError } from '../core/errors.ts';
import { nearest } from '../core/text/nearest.ts';
import { didYouMean } from '../core/text/sentence.ts';

/** One of the things that a command with actions does, by name. @throws UsageError when there is none of that name */
export function actionOf<A>(command: string, actions: Readonly<Record<string, A>>, name: string): A {
  const action = Object.hasOwn(actions, name) ? actions[name] : undefined;
  if (action !== undefined) return action;
  const near = nearest(name, Object.keys(actions));
  throw new UsageError({
    what: `${command} has no action “${name}”`,
    hint: didYouMean(near, `there are ${Object.keys(actions).join(', ')}`),
  });
}

/** The argument of a command that says which of its actions is meant. */
export function actionArgument(actions: Readonly<Record<string, ActionFacts>>): CommandArgument {
  const names = Object.keys(actions);
  return { form: '<action>', about: names.join(', '), choices: names };
}
