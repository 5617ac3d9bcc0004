import { Slider } from 'radix-ui';

/** A share of something, 0..1, on a thin line. */
export function ThinSlider({
  label,
  value,
  className,
  onValue,
}: {
  label: string;
  value: number;
  /** Its width. */
  className: string;
  onValue: (value: number) => void;
}) {
  return (
    <Slider.Root
      className={`relative flex h-6 items-center ${className}`}
      min={0}
      max={100}
      value={[Math.round(value * 100)]}
      onValueChange={([percent]) => onValue(percent! / 100)}
    >
      <Slider.Track className="h-0.5 w-full bg-rule">
        <Slider.Range className="absolute h-0.5 bg-ink" />
      </Slider.Track>
      <Slider.Thumb className="block size-3 rounded-full bg-ink" aria-label={label} />
    </Slider.Root>
  );
}
