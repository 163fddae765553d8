export { changeMessages, type WantedMessage } from "./change-messages.ts";
export { csvRow } from "./csv.ts";
export { filterMessages, findRowAt, type MessageFilter, NO_FILTER } from "./filter-messages.ts";
export { fieldsOf, type MessageField, readFields } from "./message-fields.ts";
export {
  BY_HAND,
  bytesOf,
  isInFile,
  lengthAt,
  type MessageTable,
  messageAt,
  messageIdAt,
  tabulateMessages,
  velocityAt,
} from "./message-table.ts";
export { channelNumber, kindOf, MESSAGE_KINDS, type MessageKind, messageWords, rawBytes } from "./message-words.ts";
export { findOddMessages, type OddKind, type OddMessages } from "./odd-messages.ts";
