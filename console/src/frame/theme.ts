/** Light or dark: as the system has it, or as the person chose. */
export type Theme = "system" | "light" | "dark";

const KEY = "sealpacket-theme";

const dark = window.matchMedia("(prefers-color-scheme: dark)");

export function chosenTheme(): Theme {
  const kept = localStorage.getItem(KEY);
  return kept === "light" || kept === "dark" ? kept : "system";
}

export function applyTheme(theme: Theme = chosenTheme()) {
  localStorage.setItem(KEY, theme);
  const isDark = theme === "dark" || (theme === "system" && dark.matches);
  document.documentElement.dataset.theme = isDark ? "dark" : "light";
}

dark.addEventListener("change", () => applyTheme());
