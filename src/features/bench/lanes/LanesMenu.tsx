import { Check, ChevronDown } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useShallow } from "zustand/shallow";
import { Key } from "../../../components/Key.tsx";
import { leaveFocus } from "../../../components/page/leave-focus.ts";
import { addLane } from "../../../core/commands/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { COLOUR_BYS, type ColourBy } from "../../../store/bench/view.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { commandById } from "../commands/commands.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { hideUnused, setHidden } from "./lane-actions.ts";

const ITEM =
  "flex items-center gap-2 rounded-md px-2 py-1 outline-none data-[highlighted]:bg-spruce-tint data-[disabled]:opacity-50";
const CONTENT =
  "z-50 max-h-[min(70vh,var(--radix-dropdown-menu-content-available-height))] min-w-52 overflow-y-auto rounded-xl border border-hairline-strong bg-sheet p-1.5 shadow-lg";

const HEIGHTS = [
  { id: "taller", name: "Taller lanes" },
  { id: "lower", name: "Lower lanes" },
  { id: "fitLanes", name: "Fit all lanes" },
  { id: "openAll", name: "Open all lanes, or close them" },
] as const;

/** What concerns all lanes: which are shown, what their colours say, and drums that nothing plays yet. */
export function LanesMenu() {
  const bench = useBench();
  const { store } = bench;
  const keyName = useKeyNames();
  const colourBy = useBenchState((state) => state.colourBy);
  const showsControls = useBenchState((state) => state.showsControls);
  const hidden = useBenchState((state) => state.hidden);
  // Only the voices: a drag changes what is in the lanes on every frame.
  const laneVoices = useBenchState(useShallow((state) => state.lanes.map(({ voice }) => voice)));
  const voices = useBenchState((state) => state.pattern.noteMap.voices);
  const missing = voices.filter(({ id }) => laneVoices.every((voice) => voice.id !== id));
  const away = laneVoices.filter(({ id }) => hidden.has(id));
  const add = (voiceId: string, name: string) => {
    store.commit(`Give ${name} a lane`, addLane(store.getState().pattern, voiceId));
    store.openLane(voiceId);
  };
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="ml-3 flex items-center gap-1 rounded px-1 text-small text-muted hover:text-ink">
        Lanes{away.length > 0 && `, ${away.length} hidden`}
        <ChevronDown size={13} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} onCloseAutoFocus={leaveFocus} className={CONTENT}>
          <DropdownMenu.Label className="px-2 py-0.5 text-fine text-muted">Colour by</DropdownMenu.Label>
          <DropdownMenu.RadioGroup value={colourBy} onValueChange={(value) => store.colourLanesBy(value as ColourBy)}>
            {COLOUR_BYS.map((one) => (
              <DropdownMenu.RadioItem key={one} value={one} className={ITEM}>
                <span className="w-4">
                  <DropdownMenu.ItemIndicator>
                    <Check size={14} />
                  </DropdownMenu.ItemIndicator>
                </span>
                {one}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
          <DropdownMenu.Separator className="my-1 border-t border-hairline" />
          <DropdownMenu.CheckboxItem
            className={ITEM}
            checked={showsControls}
            onCheckedChange={(isOn) => store.setShowsControls(isOn)}
          >
            <span className="w-4">
              <DropdownMenu.ItemIndicator>
                <Check size={14} />
              </DropdownMenu.ItemIndicator>
            </span>
            Mute and solo on every lane
          </DropdownMenu.CheckboxItem>
          <DropdownMenu.Item className={ITEM} onSelect={() => doAndSay(bench, () => hideUnused(bench))}>
            <span className="w-4" /> Hide lanes without hits
          </DropdownMenu.Item>
          {HEIGHTS.map(({ id, name }) => (
            <DropdownMenu.Item
              key={id}
              className={ITEM}
              onSelect={() => doAndSay(bench, () => commandById(id)?.run(bench))}
            >
              <span className="w-4" /> {name}
              {keyName(id) && (
                <span className="ml-auto">
                  <Key>{keyName(id)}</Key>
                </span>
              )}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Item className={ITEM} onSelect={() => store.showSheet("kit")}>
            <span className="w-4" /> Layers of the kit …
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => store.showSheet("mix")}>
            <span className="w-4" /> Sound and mix …
          </DropdownMenu.Item>
          {away.map(({ id, name }) => (
            <DropdownMenu.Item key={id} className={ITEM} onSelect={() => setHidden(bench, id, false)}>
              <span className="w-4" /> Show {name} again
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 border-t border-hairline" />
          <DropdownMenu.Sub>
            <DropdownMenu.SubTrigger className={ITEM} disabled={missing.length === 0}>
              <span className="w-4" /> Add a lane
            </DropdownMenu.SubTrigger>
            <DropdownMenu.Portal>
              <DropdownMenu.SubContent className={CONTENT}>
                {missing.map(({ id, name }) => (
                  <DropdownMenu.Item key={id} className={ITEM} onSelect={() => add(id, name)}>
                    {name}
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.SubContent>
            </DropdownMenu.Portal>
          </DropdownMenu.Sub>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
