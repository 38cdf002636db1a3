/** Put a status word into the text of a sheet, as one that waits for us until somebody says better. */

const PLAIN = /^[A-Za-z][\w-]*$/;
const TRAPS = /^(y|n|yes|no|on|off|true|false|null)$/i;

/** The text with the word under `statuses`. A sheet without `statuses` gets them; one without `replies` is undefined. */
export function putStatus(text: string, word: string): string | undefined {
  const found = /^([ \t]*)statuses:[ \t]*(\{)?[ \t]*(\r?\n)?/m.exec(text);
  if (!found) return begun(text, word);
  const end = found.index + found[0].length;
  const rest = text.slice(end);
  if (found[2]) return `${text.slice(0, end)}${keyed(word)}${/^\s*\}/.test(rest) ? "" : ", "}${rest}`;
  if (!found[3]) return undefined;
  const inner = /^[ \t]+/.exec(rest)?.[0] ?? "";
  const outer = found[1] ?? "";
  const indent = inner.length > outer.length ? inner : `${outer}  `;
  return `${text.slice(0, end)}${indent}${keyed(word)}${found[3]}${rest}`;
}

/** Whether the text lists a word as a status: as a key behind `statuses`, and not in a comment. */
export function listsStatus(text: string, word: string): boolean {
  const from = text.search(/^[ \t]*statuses:/m);
  if (from < 0) return false;
  const plain = text.slice(from).replace(/(^|\s)#.*$/gm, "$1");
  const name = word.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  return new RegExp(`(^|[\\s{,])(["']?)${name}\\2[ \\t]*:`, "m").test(plain);
}

function begun(text: string, word: string): string | undefined {
  const found = /^replies:[ \t]*(\r?\n)/m.exec(text);
  if (!found) return undefined;
  const end = found.index + found[0].length;
  const indent = /^[ \t]+/.exec(text.slice(end))?.[0] ?? "  ";
  return `${text.slice(0, end)}${indent}statuses: {${keyed(word)}}${found[1]}${text.slice(end)}`;
}

function keyed(word: string): string {
  return `${PLAIN.test(word) && !TRAPS.test(word) ? word : JSON.stringify(word)}: asked`;
}
