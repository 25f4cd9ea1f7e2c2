/**
 * Loads a module by its URL, and runs it. In a file of its own, which the build leaves alone: code whose compiled form is kept
 * cannot load modules by itself.
 */
export async function importModule(url: string): Promise<Record<string, unknown>> {
  return (await import(url)) as Record<string, unknown>;
}
