import { ROLES } from "../document/role.ts";
import { type DynamicsTreatment, type RoleShape, USUAL_DYNAMICS } from "../document/treatment.ts";
import { gridName } from "../time/index.ts";

/** The dynamics step as a sentence: `Ghosts 8 softer, 80 % as dynamic, in eighths 100 65.` */
export function dynamicsSentence(dynamics: DynamicsTreatment): string {
  const { byRole, loudnessPercent, rangePercent, cycle, deviation, lowestVelocity, highestVelocity } = dynamics;
  const parts = ROLES.flatMap((role) => {
    const words = roleWords(byRole?.[role] ?? {});
    return words.length > 0 ? [`${role}s ${words.join(" and ")}`] : [];
  });
  if (loudnessPercent !== USUAL_DYNAMICS.loudnessPercent) parts.push(`all at ${loudnessPercent} %`);
  if (rangePercent !== USUAL_DYNAMICS.rangePercent) parts.push(`${rangePercent} % as dynamic`);
  if (cycle) parts.push(`in ${gridName(cycle.grid)} ${cycle.percents.join(" ")}`);
  if (deviation > 0) parts.push(`± ${deviation} by chance`);
  if (lowestVelocity > 1) parts.push(`never below ${lowestVelocity}`);
  if (highestVelocity < 127) parts.push(`never above ${highestVelocity}`);
  const count = dynamics.exceptions?.length ?? 0;
  if (count > 0) parts.push(`otherwise in ${count} ${count === 1 ? "place" : "places"}`);
  if (parts.length === 0) return "As loud as it was played.";
  const sentence = parts.join(", ");
  return `${sentence[0]!.toUpperCase()}${sentence.slice(1)}.`;
}

function roleWords(shape: RoleShape): readonly string[] {
  const { setVelocity, evenOutPercent, scalePercent, addVelocity, lowestVelocity, highestVelocity } = shape;
  return [
    ...(setVelocity === undefined ? [] : [`all at ${setVelocity}`]),
    ...(evenOutPercent ? [`evened out ${evenOutPercent} %`] : []),
    ...(scalePercent === undefined ? [] : [`at ${scalePercent} %`]),
    ...(addVelocity ? [`${Math.abs(addVelocity)} ${addVelocity < 0 ? "softer" : "louder"}`] : []),
    ...(lowestVelocity === undefined ? [] : [`not below ${lowestVelocity}`]),
    ...(highestVelocity === undefined ? [] : [`not above ${highestVelocity}`]),
  ];
}
