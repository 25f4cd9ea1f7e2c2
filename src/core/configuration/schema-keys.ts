import type * as z from 'zod';

type Schema = z.core.$ZodType;
type Path = readonly (string | number)[];

/** The parts of a schema, as far as our files use them. */
type Parts = z.core.$ZodTypeDef & {
  shape?: Record<string, Schema>;
  innerType?: Schema;
  in?: Schema;
  out?: Schema;
  element?: Schema;
  valueType?: Schema;
  options?: readonly Schema[];
  entries?: Readonly<Record<string, string>>;
  values?: readonly unknown[];
};

/** The keys that a schema knows at a path; none where it takes any key. */
export function keysAt(schema: Schema, path: Path): string[] {
  return [...new Set(schemasAt(schema, path).flatMap((each) => Object.keys(partsOf(each).shape ?? {})))];
}

/** The values that a schema allows at a path; none where it takes any. */
export function valuesAt(schema: Schema, path: Path): string[] {
  const values = schemasAt(schema, path).flatMap((each) => {
    const { type, entries, values: literals = [] } = partsOf(each);
    return type === 'boolean' ? ['true', 'false'] : [...Object.values(entries ?? {}), ...literals.map(String)];
  });
  return [...new Set(values)];
}

/** The description of the entry at a path. */
export function descriptionAt(schema: Schema, path: Path): string | undefined {
  const key = path.at(-1);
  for (const above of schemasAt(schema, path.slice(0, -1))) {
    const entry = partsOf(above).shape?.[String(key)] as z.ZodType | undefined;
    if (entry?.description !== undefined) return entry.description;
  }
  return undefined;
}

/** Every schema that may hold at a path, unwrapped: a union has several. */
function schemasAt(schema: Schema, path: Path): Schema[] {
  const { innerType, in: before, out, options, shape, element, valueType } = partsOf(schema);
  // Of what is made of something else first, the later form is the one that is described.
  const wrapped = innerType ?? (before !== undefined && partsOf(before).type === 'transform' ? out : before);
  if (wrapped !== undefined) return schemasAt(wrapped, path);
  if (options !== undefined) return options.flatMap((option) => schemasAt(option, path));
  const [head, ...rest] = path;
  if (head === undefined) return [schema];
  const next = shape?.[String(head)] ?? element ?? valueType;
  return next === undefined ? [] : schemasAt(next, rest);
}

function partsOf(schema: Schema): Parts {
  return schema._zod.def;
}
