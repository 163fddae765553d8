import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { ROLE_SHAPE_LIMITS, type Role } from "../../../core/document/index.ts";
import type { DynamicsTreatment } from "../../../core/document/treatment.ts";
import type { DynamicsSetting } from "./use-dynamics-setting.ts";

const NAMES: Readonly<Record<Role, string>> = { ghost: "Ghosts", stroke: "Normal", accent: "Accents" };

interface RoleRowProps {
  readonly role: Role;
  readonly dynamics: DynamicsTreatment;
  readonly setting: DynamicsSetting;
}

/** How loud one role goes out in proportion to how it was played. What else can be done to it is behind “More”. */
export function RoleRow({ role, dynamics, setting }: RoleRowProps) {
  const shape = dynamics.byRole?.[role] ?? {};
  const withPercent = (value: number) => {
    const { scalePercent: _, ...others } = shape;
    const percent = Math.round(value);
    return { byRole: { ...dynamics.byRole, [role]: percent === 100 ? others : { ...others, scalePercent: percent } } };
  };
  return (
    <SettingRow
      limit={{ ...ROLE_SHAPE_LIMITS.scalePercent, say: (value) => (value === 100 ? "as played" : `× ${value} %`) }}
      label={NAMES[role]}
      value={shape.scalePercent ?? 100}
      onPreview={(value) => setting.preview(withPercent(value))}
      onCommit={(value) => setting.commit(NAMES[role].toLowerCase(), withPercent(value))}
      onCancel={setting.cancel}
    />
  );
}
