/** Class names, joined. */

export function join(...names: (string | false | null | undefined)[]) {
  return names.filter(Boolean).join(" ");
}
