/** Where a cursor stands in a sheet: the path of the group around it, and whether a name or a value is meant. */

export interface Place {
  /** The names from the top down to the group; a list item is `0`. */
  path: string[];
  /** The name whose value is meant; null where a name is. */
  name: string | null;
  /** Where the word at the cursor begins. */
  from: number;
}

interface Line {
  indent: number;
  dashes: number[];
  name: string | null;
}

const NAME = /^("[^"]*"|'[^']*'|[^\s"'{}[\],#:][^{}[\],#:]*?)\s*:(?=\s|$)/;

/** The indentation, the dashes and the name of a line. */
function read(text: string): Line {
  const dashes: number[] = [];
  let at = text.length - text.trimStart().length;
  while (text[at] === "-" && (text[at + 1] === " " || at + 1 === text.length)) {
    dashes.push(at);
    at += 1;
    while (text[at] === " ") at += 1;
  }
  const name = NAME.exec(text.slice(at))?.[1] ?? null;
  return { indent: at, dashes, name: name?.replace(/^["']|["']$/g, "") ?? null };
}

/** The names above a column of a line, from the top down. */
function above(lines: string[], number: number, column: number, inItem: boolean): string[] {
  const path: string[] = [];
  let limit = column;
  let fromDash = inItem;
  for (let at = number - 1; at >= 0 && limit > 0; at--) {
    const text = lines[at] ?? "";
    if (!text.trim() || text.trimStart().startsWith("#")) continue;
    const line = read(text);
    const first = line.dashes[0];
    if (line.indent < limit || (fromDash && line.indent <= limit && first === undefined)) {
      if (line.name === null) continue;
      path.unshift(line.name);
      limit = line.indent;
      fromDash = false;
    } else if (first === undefined || first >= limit) {
      continue;
    }
    for (let dash = line.dashes.length - 1; dash >= 0; dash--) {
      const where = line.dashes[dash] as number;
      if (where >= limit) continue;
      path.unshift("0");
      limit = where;
      fromDash = true;
    }
  }
  return path;
}

interface Open {
  kind: "{" | "[";
  name: string | null;
}

/** The braces and brackets that are open before a column, and the name behind which the text stands. */
function opened(text: string): { open: Open[]; name: string | null; word: number } {
  const open: Open[] = [];
  let name: string | null = null;
  let word = 0;
  let quote = "";
  for (let at = 0; at < text.length; at++) {
    const sign = text[at] as string;
    if (quote) {
      if (sign === quote) quote = "";
      continue;
    }
    if ((sign === '"' || sign === "'") && !text.slice(word, at).trim()) quote = sign;
    else if (sign === "{" || sign === "[") {
      open.push({ kind: sign, name });
      name = null;
      word = at + 1;
    } else if (sign === "}" || sign === "]") {
      open.pop();
      name = null;
      word = at + 1;
    } else if (sign === ",") {
      name = null;
      word = at + 1;
    } else if (sign === ":" && (text[at + 1] === " " || at + 1 === text.length)) {
      name = text
        .slice(word, at)
        .trim()
        .replace(/^["']|["']$/g, "");
      word = at + 1;
    }
  }
  return { open, name, word };
}

/** Where the position stands. */
export function placeOf(text: string, position: number): Place {
  const before = text.slice(0, position);
  const lines = before.split("\n");
  const number = lines.length - 1;
  const whole = lines[number] ?? "";
  const line = read(whole);
  const begin = position - whole.length;
  const found = opened(whole.slice(line.indent));
  const path = above(lines, number, line.dashes[0] ?? line.indent, line.dashes.length > 0);
  path.push(...line.dashes.map(() => "0"));
  for (const one of found.open) {
    if (one.name !== null) path.push(one.name);
    else if (path.length && one !== found.open[0]) path.push("0");
    if (one.kind === "[") path.push("0");
  }
  // A group within a list is the item itself: `[{` has added two.
  const tidy = path.filter((part, at) => !(part === "0" && path[at - 1] === "0" && found.open.length > 1));
  const blanks = /^\s*/.exec(whole.slice(line.indent + found.word))?.[0].length ?? 0;
  return { path: tidy, name: found.name, from: begin + line.indent + found.word + blanks };
}
