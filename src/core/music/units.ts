/**
 * Numbers that know what they count: milliseconds cannot be given where ticks are asked for, nor a bar where a tick is. A plain number is
 * taken for any of them, and whatever is computed of them is a plain number again.
 */
declare const unit: unique symbol;
type Counted<Unit extends string> = number & { readonly [unit]?: Unit };

/** Of a timeline's own resolution, from 0. */
export type Ticks = Counted<'ticks'>;

/** A resolution: how many make a quarter note. */
export type TicksPerQuarter = Counted<'ticks a quarter note'>;

export type Milliseconds = Counted<'ms'>;
export type Seconds = Counted<'s'>;

/** Counted from 1. */
export type BarNumber = Counted<'bar'>;
