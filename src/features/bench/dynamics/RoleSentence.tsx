import { LimitedNumber } from "../../../components/sentence/LimitedNumber.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { ROLE_SHAPE_LIMITS, type Role } from "../../../core/document/index.ts";
import type { DynamicsTreatment, RoleShape } from "../../../core/document/treatment.ts";
import type { Limit } from "../../../core/limit.ts";
import type { DynamicsSetting } from "./use-dynamics-setting.ts";

type Part = keyof RoleShape;

/** How each thing that can be done to a role is offered, and what it begins with. */
const PARTS: Readonly<Record<Part, { readonly offer: string; readonly first: number }>> = {
  addVelocity: { offer: "louder or softer", first: -8 },
  scalePercent: { offer: "velocity in proportion", first: 85 },
  evenOutPercent: { offer: "evened out", first: 40 },
  setVelocity: { offer: "same velocity", first: 64 },
  lowestVelocity: { offer: "minimum", first: 20 },
  highestVelocity: { offer: "maximum", first: 110 },
  chancePercent: { offer: "more or less humanize", first: 50 },
};
const ORDER = Object.keys(PARTS) as Part[];
const NAMES: Readonly<Record<Role, string>> = { ghost: "Ghosts", stroke: "Normal hits", accent: "Accents" };

const limitOf = (part: Part): Limit => ROLE_SHAPE_LIMITS[part];

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
    const isNeutral = value === null || value === limitOf(part).usual;
    const next = isNeutral ? others : { ...others, [part]: value };
    return { byRole: { ...dynamics.byRole, [role]: next } };
  };
  const isPart = (id: string): id is Part => id in PARTS;
  return (
    <span className="block leading-[1.75]">
      {name}{" "}
      {present.map((part, index) => {
        const limit = limitOf(part);
        return (
          <span key={part}>
            {index > 0 && ", "}
            <LimitedNumber
              limit={limit}
              label={`${limit.label}: ${name.toLowerCase()}`}
              value={shape[part]!}
              usual={limit.usual ?? PARTS[part].first}
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
