import { SentenceChoice } from "../../../components/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/SentenceNumber.tsx";
import type { Role } from "../../../core/document/index.ts";
import type { DynamicsTreatment, RoleShape } from "../../../core/document/treatment.ts";
import type { DynamicsSetting } from "./use-dynamics-setting.ts";

type Part = keyof RoleShape;

/** One thing that can be done to a role: how it is offered and said, and what it is when it has just been chosen. */
interface PartWords {
  readonly offer: string;
  readonly label: string;
  readonly first: number;
  /** The value that changes nothing; with it the part is left out. */
  readonly neutral: number | null;
  readonly range: readonly [min: number, max: number];
  readonly unit: string;
  say(value: number): string;
}

const PARTS: Readonly<Record<Part, PartWords>> = {
  addVelocity: {
    offer: "louder or softer",
    label: "Louder",
    first: -8,
    neutral: 0,
    range: [-60, 60],
    unit: "of 127, softer is negative",
    say: (value) => `${Math.abs(value)} ${value < 0 ? "softer" : "louder"}`,
  },
  scalePercent: {
    offer: "in proportion",
    label: "In proportion",
    first: 85,
    neutral: 100,
    range: [0, 200],
    unit: "%",
    say: (value) => `at ${value} %`,
  },
  evenOutPercent: {
    offer: "evened out",
    label: "Evened out",
    first: 40,
    neutral: 0,
    range: [0, 100],
    unit: "%, towards their middle",
    say: (value) => `evened out ${value} %`,
  },
  setVelocity: {
    offer: "all alike",
    label: "All as loud as",
    first: 64,
    neutral: null,
    range: [1, 127],
    unit: "of 127",
    say: (value) => `all at ${value}`,
  },
  lowestVelocity: {
    offer: "not softer than",
    label: "Not softer than",
    first: 20,
    neutral: 1,
    range: [1, 127],
    unit: "of 127",
    say: (value) => `not below ${value}`,
  },
  highestVelocity: {
    offer: "not louder than",
    label: "Not louder than",
    first: 110,
    neutral: 127,
    range: [1, 127],
    unit: "of 127",
    say: (value) => `not above ${value}`,
  },
  chancePercent: {
    offer: "more or less chance",
    label: "Share of the chance",
    first: 50,
    neutral: 100,
    range: [0, 200],
    unit: "%",
    say: (value) => `with ${value} % of the chance`,
  },
};
const ORDER = Object.keys(PARTS) as Part[];
const NAMES: Readonly<Record<Role, string>> = { ghost: "Ghosts", stroke: "Strokes", accent: "Accents" };

interface RoleSentenceProps {
  readonly role: Role;
  readonly dynamics: DynamicsTreatment;
  readonly setting: DynamicsSetting;
}

/** What is done to one role, as a sentence: as played, or any of the parts, each with its number. */
export function RoleSentence({ role, dynamics, setting }: RoleSentenceProps) {
  const shape = dynamics.byRole?.[role] ?? {};
  const present = ORDER.filter((part) => shape[part] !== undefined);
  const name = NAMES[role];
  const withPart = (part: Part, value: number | null) => {
    const { [part]: _, ...others } = shape;
    const isNeutral = value === null || value === PARTS[part].neutral;
    const next = isNeutral ? others : { ...others, [part]: value };
    return { byRole: { ...dynamics.byRole, [role]: next } };
  };
  const isPart = (id: string): id is Part => id in PARTS;
  return (
    <span className="block leading-[1.75]">
      {name}{" "}
      {present.map((part, index) => {
        const { label, range, unit, say, neutral, first } = PARTS[part];
        return (
          <span key={part}>
            {index > 0 && ", "}
            <SentenceNumber
              label={`${label}: ${name.toLowerCase()}`}
              min={range[0]}
              max={range[1]}
              step={1}
              unit={unit}
              say={say}
              value={shape[part]!}
              usual={neutral ?? first}
              onPreview={(value) => setting.preview(withPart(part, Math.round(value)))}
              onCommit={(value) => setting.commit(name.toLowerCase(), withPart(part, Math.round(value)))}
              onCancel={setting.cancel}
            />
          </span>
        );
      })}
      {present.length > 0 && ", "}
      <SentenceChoice
        label={`What is done to ${name.toLowerCase()}`}
        chosenId="none"
        groups={[
          [{ id: "none", name: present.length > 0 ? "and no more" : "as played" }],
          ORDER.filter((part) => shape[part] === undefined).map((part) => ({ id: part, name: PARTS[part].offer })),
          ...(present.length > 0 ? [[{ id: "clear", name: "as played again" }]] : []),
        ]}
        onPreview={(id) => {
          if (isPart(id)) setting.preview(withPart(id, PARTS[id].first));
          else setting.cancel();
        }}
        onChoose={(id) => {
          if (isPart(id)) setting.commit(name.toLowerCase(), withPart(id, PARTS[id].first));
          if (id === "clear") setting.commit(name.toLowerCase(), { byRole: { ...dynamics.byRole, [role]: {} } });
        }}
        onCancel={setting.cancel}
      />
      .
    </span>
  );
}
