import type { ReactNode } from "react";
import { Key } from "../../../components/Key.tsx";
import { useKeyNames } from "../commands/command-keys.ts";

/** What a key does, after the key as it was chosen; nothing where no key does it. */
export function KeyHint({ ids, children }: { ids: readonly string[]; children: ReactNode }) {
  const keyName = useKeyNames();
  const keys = ids.map(keyName).filter((key) => key !== "");
  if (keys.length < ids.length) return null;
  return (
    <>
      {keys.map((key) => (
        <Key key={key}>{key}</Key>
      ))}{" "}
      {children}{" "}
    </>
  );
}
