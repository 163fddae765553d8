// Checks values against the JSON schemas of this folder in the page. Ajv, which checks them on the server, makes code from text, which
// the content policy of our pages forbids; made ahead it would be 60 kB. This makes plain functions of the same schemas, once.

/** Where a value is not as it should be, and how. */
export interface ShapeFault {
  /** Like `/edit/moves/0/toTick`. */
  readonly where: string;
  readonly message: string;
}

type Check = (value: unknown, where: string) => ShapeFault | null;

/** The part of JSON Schema that our schemas use. Anything else is refused when a check is made. */
interface Schema {
  readonly [keyword: string]: unknown;
}

const KNOWN = new Set([
  ..."type nullable enum const anyOf oneOf discriminator $ref $defs $schema title description".split(" "),
  ..."properties required additionalProperties propertyNames minProperties maxProperties".split(" "),
  ..."items minItems maxItems minLength maxLength pattern minimum maximum".split(" "),
]);

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

const TYPES: Readonly<Record<string, (value: unknown) => boolean>> = {
  object: isObject,
  array: Array.isArray,
  string: (value) => typeof value === "string",
  number: (value) => typeof value === "number" && Number.isFinite(value),
  integer: Number.isInteger,
  boolean: (value) => typeof value === "boolean",
  null: (value) => value === null,
};

/**
 * Makes a check of a schema.
 * @returns a function that gives the first fault of a value, or null
 * @throws Error if the schema uses a keyword that is not known here
 */
export function checkOf(schema: object): (value: unknown) => ShapeFault | null {
  const root = schema as Schema;
  const made = new Map<unknown, Check>();

  function resolve({ $ref }: Schema): Schema {
    const name = String($ref).replace("#/$defs/", "");
    return (root.$defs as Record<string, Schema>)[name]!;
  }

  /** Each schema once, and before what is in it, so that one may refer to itself. */
  function make(one: Schema): Check {
    const known = made.get(one);
    if (known) return known;
    const unknown = Object.keys(one).find((keyword) => !KNOWN.has(keyword));
    if (unknown) throw new Error(`No check is made of ${unknown}.`);
    let check: Check | null = null;
    const later: Check = (value, where) => check!(value, where);
    made.set(one, later);
    check = makeNow(one);
    made.set(one, check);
    return check;
  }

  function makeNow(one: Schema): Check {
    if (one.$ref !== undefined) return make(resolve(one));
    const checks: Check[] = [];
    if (one.type !== undefined) checks.push(ofType(String(one.type)));
    if (one.const !== undefined) checks.push(oneOf([one.const]));
    if (one.enum !== undefined) checks.push(oneOf(one.enum as readonly unknown[]));
    if (one.anyOf !== undefined) checks.push(anyOf((one.anyOf as Schema[]).map(make)));
    if (one.oneOf !== undefined) checks.push(byKind(one));
    if (one.minimum !== undefined || one.maximum !== undefined) checks.push(within(one));
    if (one.type === "string") checks.push(ofText(one));
    if (one.items !== undefined || one.minItems !== undefined) checks.push(ofItems(one));
    if (one.type === "object" && one.oneOf === undefined) checks.push(ofFields(one));
    const all: Check = (value, where) => {
      for (const check of checks) {
        const fault = check(value, where);
        if (fault) return fault;
      }
      return null;
    };
    if (one.nullable !== true) return all;
    return (value, where) => (value === null ? null : all(value, where));
  }

  /** Alternatives that a field tells apart: only the meant one is looked at. */
  function byKind(one: Schema): Check {
    const field = (one.discriminator as { propertyName: string }).propertyName;
    const byValue = new Map(
      (one.oneOf as Schema[]).map((branch) => {
        const resolved = branch.$ref === undefined ? branch : resolve(branch);
        const { const: kind } = (resolved.properties as Record<string, Schema>)[field]!;
        return [kind, make(branch)] as const;
      }),
    );
    return (value, where) => {
      const check = isObject(value) ? byValue.get(value[field]) : undefined;
      return check ? check(value, where) : { where: `${where}/${field}`, message: `is no ${field} that is known` };
    };
  }

  function ofItems({ items, minItems = 0, maxItems = Number.POSITIVE_INFINITY }: Schema): Check {
    const check = items === undefined ? null : make(items as Schema);
    return (value, where) => {
      if (!Array.isArray(value)) return null;
      if (value.length < (minItems as number)) return { where, message: `must have ${minItems} items or more` };
      if (value.length > (maxItems as number)) return { where, message: `must have ${maxItems} items or fewer` };
      if (!check) return null;
      for (let index = 0; index < value.length; index++) {
        const fault = check(value[index], "");
        // The way is put together only where something is wrong: there may be half a million items.
        if (fault) return { ...fault, where: `${where}/${index}${fault.where}` };
      }
      return null;
    };
  }

  function ofFields(one: Schema): Check {
    const fields = Object.entries((one.properties ?? {}) as Record<string, Schema>);
    const checks = new Map(fields.map(([name, field]) => [name, make(field)]));
    const { required = [], minProperties = 0, maxProperties = Number.POSITIVE_INFINITY } = one;
    const others = isObject(one.additionalProperties) ? make(one.additionalProperties) : null;
    const allowsOthers = one.additionalProperties !== false;
    const ofName = isObject(one.propertyNames) ? make({ type: "string", ...one.propertyNames }) : null;
    return (value, where) => {
      const whole = value as Record<string, unknown>;
      for (const name of required as readonly string[]) {
        if (whole[name] === undefined) return { where, message: `must have ${name}` };
      }
      let count = 0;
      for (const name in whole) {
        // JSON has no undefined: such a field is not sent.
        if (whole[name] === undefined) continue;
        count++;
        const misnamed = ofName?.(name, where);
        if (misnamed) return misnamed;
        const check = checks.get(name) ?? others;
        if (!check) {
          if (!allowsOthers) return { where, message: `must not have ${name}` };
          continue;
        }
        const fault = check(whole[name], "");
        if (fault) return { ...fault, where: `${where}/${name}${fault.where}` };
      }
      if (count < (minProperties as number)) return { where, message: "must not be empty" };
      if (count > (maxProperties as number)) return { where, message: `must have ${maxProperties} fields or fewer` };
      return null;
    };
  }

  const check = make(root);
  return (value) => check(value, "");
}

function ofType(type: string): Check {
  const isOfType = TYPES[type]!;
  return (value, where) => (isOfType(value) ? null : { where, message: `must be of type ${type}` });
}

function oneOf(values: readonly unknown[]): Check {
  const known = new Set(values);
  return (value, where) => (known.has(value) ? null : { where, message: `must be one of ${values.join(", ")}` });
}

function anyOf(checks: readonly Check[]): Check {
  return (value, where) => {
    let fault: ShapeFault | null = null;
    for (const check of checks) {
      const own = check(value, where);
      if (!own) return null;
      // Of the first, which is what is meant; the last is often null.
      fault ??= own;
    }
    return fault;
  };
}

function within({ minimum = Number.NEGATIVE_INFINITY, maximum = Number.POSITIVE_INFINITY }: Schema): Check {
  return (value, where) => {
    if (typeof value !== "number") return null;
    if (value < (minimum as number)) return { where, message: `is ${value}, and must be ${minimum} or more` };
    if (value > (maximum as number)) return { where, message: `is ${value}, and must be ${maximum} or less` };
    return null;
  };
}

function ofText({ minLength = 0, maxLength = Number.POSITIVE_INFINITY, pattern }: Schema): Check {
  const form = pattern === undefined ? null : new RegExp(pattern as string, "u");
  return (value, where) => {
    const text = value as string;
    // Counted in signs, as the standard says, and not in halves of them: where there are none, the two are the same.
    const length = text.length > (maxLength as number) ? [...text].length : text.length;
    if (length < (minLength as number)) return { where, message: "must not be empty" };
    if (length > (maxLength as number)) return { where, message: `must be at most ${maxLength} signs long` };
    return form && !form.test(text) ? { where, message: "holds signs that may not be in it" } : null;
  };
}
