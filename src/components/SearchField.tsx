import clsx from "clsx";

interface SearchFieldProps {
  readonly label: string;
  /** What stands in it while it is empty, if that is not its label. */
  readonly placeholder?: string;
  readonly value: string;
  readonly className?: string;
  readonly onChange: (value: string) => void;
}

/** A field that what is listed below is searched by, as it is typed. */
export function SearchField({ label, placeholder = label, value, className, onChange }: SearchFieldProps) {
  return (
    <input
      type="search"
      aria-label={label}
      placeholder={placeholder}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className={clsx("rounded-md border border-edge bg-sheet px-2 py-1", className)}
    />
  );
}
