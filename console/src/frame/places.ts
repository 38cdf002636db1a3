/** The entries of the navigation. */

/** Where one can go; some places are for some roles only. */
export const PLACES: [to: string, name: string, role?: string][] = [
  ["/", "Today"],
  ["/packets", "Packets"],
  ["/assets", "Assets"],
  ["/contracts", "Contracts"],
  ["/ahead", "Ahead"],
  ["/overview", "Overview"],
  ["/desks", "Desks"],
  ["/articles", "Know-how"],
  ["/imports", "Imports", "keeper"],
];
