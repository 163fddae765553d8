import { useState } from "react";
import { Button } from "../../components/Button.tsx";
import { SentenceChoice } from "../../components/sentence/SentenceChoice.tsx";
import {
  MESSAGE_KINDS,
  type MessageFilter,
  type MessageTable,
  NO_FILTER,
  type OddMessages,
} from "../../core/messages/index.ts";
import { parseBarBeat } from "../../core/time/index.ts";
import { useBenchState } from "../../store/bench/bench-context.ts";

interface FilterBarProps {
  readonly table: MessageTable;
  readonly filter: MessageFilter;
  readonly onFilter: (filter: MessageFilter) => void;
  /** How many are listed. */
  readonly shown: number;
  /** The odd ones that are listed instead; null if the filter says what is listed. */
  readonly odd: OddMessages | null;
  readonly onAll: () => void;
  readonly onCsv: () => void;
}

const ANY = "any";

/** What narrows the list, as a sentence. */
export function FilterBar({ table, filter, onFilter, shown, odd, onAll, onCsv }: FilterBarProps) {
  const lanes = useBenchState((state) => state.lanes);
  const tracks = [...new Set(table.trackIndexes)].sort((a, b) => a - b);
  const channels = channelsOf(table);
  const choice = (
    label: string,
    value: string | number | null,
    anyName: string,
    choices: readonly { readonly id: string | number; readonly name: string }[],
    onChoose: (id: string | null) => void,
  ) => (
    <SentenceChoice
      label={label}
      chosenId={String(value ?? ANY)}
      groups={[[{ id: ANY, name: anyName }], choices.map(({ id, name }) => ({ id: String(id), name }))]}
      onChoose={(id) => onChoose(id === ANY ? null : id)}
    />
  );
  const numberOrNull = (id: string | null) => (id === null ? null : Number(id));
  return (
    <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1 px-4 py-2.5">
      {odd ? (
        <p>
          <strong>{odd.title}</strong>: {shown.toLocaleString("en")}
        </p>
      ) : (
        <p className="leading-[1.9]">
          <strong>{shown.toLocaleString("en")}</strong> of {table.count.toLocaleString("en")} messages:{" "}
          {choice(
            "Kind",
            filter.kind,
            "of every kind",
            MESSAGE_KINDS.map((kind) => ({ id: kind, name: kind })),
            (id) => onFilter({ ...filter, kind: MESSAGE_KINDS.find((kind) => kind === id) ?? null }),
          )}
          , on{" "}
          {choice(
            "Track",
            filter.trackIndex,
            "any track",
            tracks.map((track) => ({ id: track, name: `track ${track + 1}` })),
            (id) => onFilter({ ...filter, trackIndex: numberOrNull(id) }),
          )}{" "}
          and{" "}
          {choice(
            "Channel",
            filter.channel,
            "any channel",
            channels.map((channel) => ({ id: channel, name: `channel ${channel + 1}` })),
            (id) => onFilter({ ...filter, channel: numberOrNull(id) }),
          )}
          , of{" "}
          {choice(
            "Drum",
            filter.laneIndex,
            "any drum or none",
            lanes.map((lane, index) => ({ id: index, name: lane.voice.name })),
            (id) => onFilter({ ...filter, laneIndex: numberOrNull(id) }),
          )}
          , from{" "}
          <PlaceField label="From" empty="the start" onPlace={(tick) => onFilter({ ...filter, fromTick: tick ?? 0 })} />{" "}
          to{" "}
          <PlaceField
            label="To"
            empty="the end"
            onPlace={(tick) => onFilter({ ...filter, toTick: tick ?? Number.POSITIVE_INFINITY })}
          />
        </p>
      )}
      <span className="ml-auto flex gap-2">
        {(odd || filter !== NO_FILTER) && (
          <Button kind="plain" className="px-2 text-spruce" onClick={onAll}>
            Show all
          </Button>
        )}
        <Button className="px-2.5" onClick={onCsv}>
          Save as CSV
        </Button>
      </span>
    </div>
  );
}

/** A place that is typed as bar:beat:tick. */
function PlaceField({
  label,
  empty,
  onPlace,
}: {
  label: string;
  empty: string;
  onPlace: (tick: number | null) => void;
}) {
  const meterMap = useBenchState((state) => state.maps.meterMap);
  const [isWrong, setIsWrong] = useState(false);
  return (
    <input
      aria-label={`${label}, as bar:beat:tick`}
      aria-invalid={isWrong}
      title={isWrong ? "Type a place as bar:beat:tick, for example 3:2:0" : "bar:beat:tick"}
      placeholder={empty}
      className="w-[76px] rounded border border-edge bg-sheet px-1.5 placeholder:text-muted aria-invalid:border-brick"
      onChange={(event) => {
        const text = event.target.value;
        const tick = text.trim() === "" ? null : parseBarBeat(meterMap, text);
        const isPlace = text.trim() === "" || tick !== null;
        setIsWrong(!isPlace);
        if (isPlace) onPlace(tick);
      }}
    />
  );
}

function channelsOf(table: MessageTable): readonly number[] {
  const channels = new Set<number>();
  for (const status of table.statuses) if (status < 0xf0) channels.add(status & 0x0f);
  return [...channels].sort((a, b) => a - b);
}
