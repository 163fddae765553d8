import { Command } from "cmdk";
import { toast } from "sonner";
import { useStore } from "zustand";
import { Key } from "../../components/Key.tsx";
import { useBench } from "../../store/bench-context.ts";
import { keyChoices } from "../../store/key-choices.ts";
import { fitOfCommand } from "./command-fit.ts";
import { keysOfCommand } from "./command-keys.ts";
import { COMMAND_GROUPS, COMMANDS } from "./commands.ts";

/** Finds any command by what it does, with its key. */
export function CommandMenu({ isOpen, onOpenChange }: { isOpen: boolean; onOpenChange: (isOpen: boolean) => void }) {
  const bench = useBench();
  const choices = useStore(keyChoices);
  return (
    <Command.Dialog
      open={isOpen}
      onOpenChange={onOpenChange}
      label="Find a command"
      filter={fitOfCommand}
      overlayClassName="fixed inset-0 z-40 bg-black/45"
      contentClassName="fixed top-[14vh] left-1/2 z-40 w-[min(560px,92vw)] -translate-x-1/2 overflow-hidden rounded-xl border border-hairline-strong bg-sheet shadow-xl"
    >
      <Command.Input
        placeholder="What do you want to do?"
        className="w-full border-b border-hairline bg-sheet px-5 py-3.5 text-[16px] outline-none"
      />
      <Command.List className="max-h-[52vh] overflow-y-auto p-2">
        <Command.Empty className="px-3 py-4 text-muted">No command is like that.</Command.Empty>
        {COMMAND_GROUPS.map((group) => (
          <Command.Group
            key={group}
            heading={group}
            className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:text-muted"
          >
            {COMMANDS.filter((command) => command.group === group).map((command) => (
              <Command.Item
                key={command.id}
                value={`${command.name} ${command.id}`}
                className="flex items-center justify-between gap-4 rounded-md px-3 py-1.5 data-[selected=true]:bg-spruce-tint"
                onSelect={() => {
                  onOpenChange(false);
                  const words = command.run(bench);
                  if (words) toast(words, { id: "command" });
                }}
              >
                {command.name}
                <span className="shrink-0">
                  {keysOfCommand(command, choices).map((key) => (
                    <Key key={key}>{key}</Key>
                  ))}
                </span>
              </Command.Item>
            ))}
          </Command.Group>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
