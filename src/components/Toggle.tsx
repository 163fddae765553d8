import { Switch } from "radix-ui";

export function Toggle({ label, isOn, onChange }: { label: string; isOn: boolean; onChange: (isOn: boolean) => void }) {
  return (
    <Switch.Root
      checked={isOn}
      onCheckedChange={onChange}
      aria-label={label}
      className="forced-color-adjust-none relative h-[18px] w-8 shrink-0 rounded-full border border-edge bg-hairline data-[state=checked]:border-spruce data-[state=checked]:bg-spruce"
    >
      <Switch.Thumb className="block size-3.5 translate-x-px rounded-full bg-sheet shadow-sm transition-transform data-[state=checked]:translate-x-[15px]" />
    </Switch.Root>
  );
}
