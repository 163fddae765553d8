import { Ajv, type ErrorObject, type ValidateFunction } from "ajv";

/**
 * Makes the validators. To have their code a little shorter would take twice as long as to make it, at every start, and so would to
 * write a shape anew wherever it is referred to.
 */
const ajv = new Ajv({ discriminator: true, inlineRefs: false, code: { optimize: false } });

/** Says whether a value has a shape, and keeps what was wrong with the last one. */
export interface ShapeTest<Value> {
  (value: unknown): value is Value;
  errors: readonly ErrorObject[] | null;
}

/** The test of a schema. It is made when it is first used: a command that reads one file needs none of the others. */
export function shapeTest<Value>(schema: object): ShapeTest<Value> {
  let validate: ValidateFunction | null = null;
  const test = (value: unknown): value is Value => {
    validate ??= ajv.compile(schema);
    const isFine = validate(value) === true;
    found.errors = validate.errors ?? null;
    return isFine;
  };
  const found: ShapeTest<Value> = Object.assign(test, { errors: null });
  return found;
}
