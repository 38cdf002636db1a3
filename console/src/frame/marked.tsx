/** A text in which the words that somebody looks for are marked. */

export function Marked({ text, words }: { text: string; words: string[] }) {
  const parts = partsOf(text, words);
  return parts.map(({ part, isHit, at }) =>
    isHit ? (
      <mark key={at} className="bg-ochre-wash text-ink">
        {part}
      </mark>
    ) : (
      <span key={at}>{part}</span>
    ),
  );
}

/** The text cut at the words, whatever their case. */
export function partsOf(text: string, words: string[]) {
  const sought = words.filter(Boolean).map((one) => one.replaceAll(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  if (sought.length === 0) return text ? [{ part: text, isHit: false, at: 0 }] : [];
  let at = 0;
  return text
    .split(new RegExp(`(${sought.join("|")})`, "i"))
    .map((part, place) => {
      const cut = { part, isHit: place % 2 === 1, at };
      at += part.length;
      return cut;
    })
    .filter(({ part }) => part);
}
