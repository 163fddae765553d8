import { Ajv } from "ajv";

/**
 * Makes the validators. To have their code a little shorter would take twice as long as to make it, at every start, and so would to
 * write a shape anew wherever it is referred to.
 */
export const ajv = new Ajv({ discriminator: true, inlineRefs: false, code: { optimize: false } });
