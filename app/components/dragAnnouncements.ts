import type { Active, Announcements, Over } from "@dnd-kit/core";

/** What is dragged, and where it may be dropped, carry their names with them. */
export interface Named {
  name: string;
}

const nameOf = ({ data }: Active | Over): string => (data.current as Named).name;

/** What is said aloud while something is dragged: names, where the package by itself would say ids. */
export const dragAnnouncements: Announcements = {
  onDragStart: ({ active }) => `${nameOf(active)} is taken hold of.`,
  onDragOver: ({ over }) => (over ? `Over ${nameOf(over)}.` : "Over nothing that takes it."),
  onDragEnd: ({ active, over }) =>
    over
      ? `${nameOf(active)} was dropped on ${nameOf(over)}.`
      : `${nameOf(active)} was let go, and stays where it was.`,
  onDragCancel: ({ active }) => `${nameOf(active)} stays where it was.`,
};
