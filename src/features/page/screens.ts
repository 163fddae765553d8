/** The screens by their path, with what people might type for them. */
export const SCREEN_WORDS: readonly { readonly path: string; readonly name: string; readonly kin: string }[] = [
  {
    path: "",
    name: "Shelf",
    kin: "home projects open import library files browser load midi new backup recipes chores presets",
  },
  { path: "bench", name: "Bench", kin: "lanes editor edit quantize clean drums take piano roll grid velocity" },
  {
    path: "maps",
    name: "Note maps",
    kin: "drum map midi in input output mapping note names kit remap general midi trigger learn device",
  },
  { path: "grooves", name: "Grooves", kin: "groove library templates feel extract" },
  {
    path: "patterns",
    name: "Patterns",
    kin: "knock loops beats grooves library find search browse rhythm fills breaks",
  },
  {
    path: "song",
    name: "Song",
    kin: "arrange arrangement arranger sections patterns verse chorus structure form timeline",
  },
  { path: "messages", name: "Messages", kin: "event list midi events controllers cc raw list editor monitor" },
];
