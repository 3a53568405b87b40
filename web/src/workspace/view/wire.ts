/** How values that the server computes are kept level with what it sends: each kind of value takes in its kind of change. */

export interface Part<Value, Change> {
  /** What a browser starts from. */
  readonly empty: Value;
  readonly apply: (value: Value, change: Change) => Value;
}

/** Any part, whatever it holds. */
interface AnyPart {
  readonly empty: unknown;
  readonly apply: (value: never, change: never) => unknown;
}

export type Described = Readonly<Record<string, AnyPart>>;
export type ValuesOf<P extends Described> = { readonly [Name in keyof P]: P[Name] extends Part<infer Value, never> ? Value : never };
export type ChangesOf<P extends Described> = { readonly [Name in keyof P]?: P[Name] extends { apply: (value: never, change: infer Change) => unknown } ? Change : never };

/** The one stretch in which two lists differ. */
export interface Splice<Row> {
  readonly at: number;
  readonly remove: number;
  readonly insert: readonly Row[];
}

export const asItIs = <T>(value: T): T => value;

export const single = <Value, Row>(read: (row: Row) => Value, empty: Row): Part<Value, readonly [Row]> => ({
  empty: read(empty),
  apply: (_, [row]) => read(row),
});

export const list = <Value, Row>(read: (row: Row) => Value): Part<readonly Value[], Splice<Row>> => ({
  empty: [],
  apply: (values, { at, remove, insert }) => [...values.slice(0, at), ...insert.map((row) => read(row)), ...values.slice(at + remove)],
});

export const map = <Value, Row>(read: (row: Row) => Value): Part<ReadonlyMap<string, Value>, Readonly<Record<string, Row | null>>> => ({
  empty: new Map(),
  apply: (values, changes) => merged(values, changes, (_, row) => read(row)),
});

/** A map whose values are themselves kept level by changes. */
export const mapOf = <Value, Change>(part: Part<Value, Change>): Part<ReadonlyMap<string, Value>, Readonly<Record<string, Change | null>>> => ({
  empty: new Map(),
  apply: (values, changes) => merged(values, changes, (value, change) => part.apply(value ?? part.empty, change)),
});

function merged<Value, Change>(
  values: ReadonlyMap<string, Value>,
  changes: Readonly<Record<string, Change | null>>,
  apply: (value: Value | undefined, change: Change) => Value,
): ReadonlyMap<string, Value> {
  const result = new Map(values);
  for (const [key, change] of Object.entries(changes)) {
    if (change === null) result.delete(key);
    else result.set(key, apply(values.get(key), change));
  }
  return result;
}

/** Several values, each by its name; what is said of others than these is passed over. */
export function parts<P extends Described>(described: P): Part<ValuesOf<P>, ChangesOf<P>> {
  const empty = Object.fromEntries(Object.entries(described).map(([name, part]) => [name, part.empty])) as ValuesOf<P>;
  const apply = (values: ValuesOf<P>, changes: ChangesOf<P>): ValuesOf<P> => {
    const result: Record<string, unknown> = { ...values };
    for (const [name, part] of Object.entries(described)) {
      const change = changes[name];
      if (change !== undefined) result[name] = (part.apply as (value: unknown, change: unknown) => unknown)(values[name], change);
    }
    return result as ValuesOf<P>;
  };
  return { empty, apply };
}
