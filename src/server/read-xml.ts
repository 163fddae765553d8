import { SaxesParser } from "saxes";
import type { XmlElement } from "../core/notemap/index.ts";
import { ProblemError } from "./problem-error.ts";

const DEEPEST = 32;
const MOST_ELEMENTS = 50_000;

/** An element while its end has not come. */
interface OpenElement {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: XmlElement[];
  text: string;
}

/**
 * Reads an XML document that nobody vouches for. It is no place for tricks: entities of its own are refused, nothing
 * outside is looked up (a document type may be named, but is not fetched), and size and depth have limits.
 * @throws ProblemError that says what is wrong and in which line
 */
export function readXml(text: string): XmlElement {
  const parser = new SaxesParser({ xmlns: false });
  const open: OpenElement[] = [];
  let root: XmlElement | null = null;
  let count = 0;
  const refuse = (message: string, remedy: string): never => {
    throw new ProblemError(422, { code: "xml.refused", message, where: `line ${parser.line}`, remedy });
  };
  parser.on("error", (error) =>
    refuse(
      `This is not well-formed XML: ${error.message.replace(/^(undefined:)?\d+:\d+: /, "")}`,
      "Ask where the document came from for another copy.",
    ),
  );
  parser.on("doctype", (doctype) => {
    if (doctype.includes("["))
      refuse("This document brings definitions of its own, which we do not run.", "Take out what is in its DOCTYPE.");
  });
  parser.on("opentag", ({ name, attributes }) => {
    count++;
    if (open.length >= DEEPEST || count > MOST_ELEMENTS)
      refuse("This document is nested deeper, or has more parts, than a list of names needs.", "Check the file.");
    open.push({ name, attributes: attributes as Record<string, string>, children: [], text: "" });
  });
  parser.on("text", (piece) => {
    const parent = open.at(-1);
    if (parent) parent.text += piece;
  });
  parser.on("closetag", () => {
    const closed = open.pop();
    if (!closed) return;
    const element: XmlElement = { ...closed, text: closed.text.trim() };
    const parent = open.at(-1);
    if (parent) parent.children.push(element);
    else root = element;
  });
  parser.write(text).close();
  return root ?? refuse("This document is empty.", "Check the file.");
}
