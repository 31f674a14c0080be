interface Props<T extends string> {
  label: string;
  options: readonly { value: T; label: string }[];
  /** Null while nothing is chosen yet. */
  value: T | null;
  onChange: (value: T) => void;
}

/** A few choices side by side, one of them taken. */
export function Choice<T extends string>({ label, options, value, onChange }: Props<T>) {
  return (
    <fieldset className="choice" aria-label={label}>
      {options.map((o) => (
        <button key={o.value} type="button" aria-pressed={o.value === value} onClick={() => onChange(o.value)}>
          {o.label}
        </button>
      ))}
    </fieldset>
  );
}
