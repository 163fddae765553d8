/** `2nd`; meant for the small numbers of settings. */
export const ordinal = (value: number) => `${value}${["st", "nd", "rd"][value - 1] ?? "th"}`;
