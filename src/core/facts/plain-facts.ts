import type { Theme } from '../theme/theme.ts';

/** A theme's facts as one plain object: the id, then every fact by its name. */
export function plainFacts(theme: Theme): Record<string, unknown> {
  const facts: Record<string, unknown> = { id: theme.names.id };
  if (theme.names.vendor !== undefined) facts['vendor'] = theme.names.vendor;
  for (const fact of theme.facts) facts[fact.name] ??= fact.value ?? null;
  return facts;
}
