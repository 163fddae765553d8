import { Key } from "../../components/Key.tsx";
import { Sheet } from "../../components/Sheet.tsx";
import { COMMANDS } from "./commands.ts";

const GROUPS = ["Listen", "Travel", "Pick", "Change", "Write"] as const;

const POINTER: readonly (readonly [string, string])[] = [
  ["Click a fin", "pick it and hear it"],
  ["Shift + click", "pick one more, or one less"],
  ["Drag on empty ground", "pick all inside"],
  ["Drag a fin along its lane", "move what is picked; with Shift, to the lane's grid"],
  ["Drag a fin up or down", "louder or softer"],
  ["Drag a fin clearly into another lane", "move it to that drum"],
  ["Drag a dot of the drift rail", "earlier or later, in ms"],
  ["Drawing: click or drag in a lane", "writes hits on its grid; with Shift, off it"],
  ["Wheel over a picked fin of the open lane", "louder or softer"],
  ["Wheel", "travel"],
  ["Ctrl + wheel, or pinch", "nearer and farther, around the pointer"],
  ["Ruler", "click to go there, drag to loop"],
];

/** Every key and what the pointer does, on one sheet. */
export function ShortcutsSheet({ isOpen, onOpenChange }: { isOpen: boolean; onOpenChange: (isOpen: boolean) => void }) {
  return (
    <Sheet title="Keys" isOpen={isOpen} onOpenChange={onOpenChange}>
      <div className="mt-3 columns-2 gap-8">
        {GROUPS.map((group) => (
          <section key={group} className="mb-4 break-inside-avoid">
            <h3 className="font-bold">{group}</h3>
            <dl>
              {COMMANDS.filter((command) => command.group === group).map(({ id, name, keys }) => (
                <div
                  key={id}
                  className="flex items-baseline justify-between gap-3 border-t border-hairline py-1 text-[13px]"
                >
                  <dt>{name}</dt>
                  <dd className="shrink-0">
                    {keys.map((key) => (
                      <Key key={key}>{key}</Key>
                    ))}
                  </dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
        <section className="break-inside-avoid">
          <h3 className="font-bold">Pointer</h3>
          <dl>
            {POINTER.map(([gesture, what]) => (
              <div key={gesture} className="border-t border-hairline py-1 text-[13px]">
                <dt className="inline font-semibold">{gesture}: </dt>
                <dd className="inline">{what}</dd>
              </div>
            ))}
          </dl>
        </section>
      </div>
    </Sheet>
  );
}
