import type { Announcements, UniqueIdentifier } from "@dnd-kit/core";

/** What is said while something is dragged by key: by name and place, not by id. */
export function dragWords(nameOf: (id: UniqueIdentifier) => string, ids: readonly UniqueIdentifier[]): Announcements {
  const placeOf = (id: UniqueIdentifier) => `place ${ids.indexOf(id) + 1} of ${ids.length}`;
  return {
    onDragStart: ({ active }) => `Picked up ${nameOf(active.id)}, ${placeOf(active.id)}.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(active.id)} is over ${placeOf(over.id)}.` : `${nameOf(active.id)} is over no place.`,
    onDragEnd: ({ active, over }) =>
      over ? `${nameOf(active.id)} is now at ${placeOf(over.id)}.` : `${nameOf(active.id)} stays where it was.`,
    onDragCancel: ({ active }) => `${nameOf(active.id)} stays where it was.`,
  };
}
