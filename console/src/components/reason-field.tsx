/** Why somebody does something that the custody log keeps. */
interface Props {
  reason: string;
  setReason: (reason: string) => void;
  longest?: number;
  /** In one line with what is beside it. */
  inline?: boolean;
  autoFocus?: boolean;
}

export function ReasonField({ reason, setReason, longest = 400, inline, autoFocus }: Props) {
  return (
    <label className={inline ? "flex grow items-center gap-3" : undefined}>
      <span className={inline ? "whitespace-nowrap text-soft" : "mb-1 block text-soft"}>
        Reason, for the custody log
      </span>
      <input
        className="field"
        required
        minLength={3}
        maxLength={longest}
        // biome-ignore lint/a11y/noAutofocus: only where a press on a button asked for it
        autoFocus={autoFocus}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
    </label>
  );
}
