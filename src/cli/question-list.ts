import { UsageError } from '../core/errors.ts';
import { BACK } from './prompts.ts';

/** One question of several. It is asked of what is known by then. */
export interface Question<A> {
  /** Whether it has to be asked at all. */
  isOpen(answers: A): boolean;
  /** Asks, and gives the answers with its own; undefined when someone broke off. `hasPrevious`: whether there is a way back. */
  ask(answers: A, hasPrevious: boolean): Promise<A | typeof BACK | undefined>;
}

/**
 * Asks one question after another, and goes back where someone wants to.
 * @throws UsageError when someone broke off
 */
export async function askAll<A>(questions: readonly Question<A>[], known: A): Promise<A> {
  const before: { readonly index: number; readonly answers: A }[] = [];
  let answers = known;
  for (let index = 0; index < questions.length; index++) {
    const question = questions[index];
    if (question === undefined || !question.isOpen(answers)) continue;
    const answer = await question.ask(answers, before.length > 0);
    if (answer === undefined) throw new UsageError({ what: 'stopped: nothing was made' });
    if (answer === BACK) {
      const previous = before.pop();
      answers = previous?.answers ?? known;
      index = (previous?.index ?? index) - 1;
      continue;
    }
    before.push({ index, answers });
    answers = answer;
  }
  return answers;
}
