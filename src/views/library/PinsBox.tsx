import { Pin, X } from 'lucide-react';
import { CHANGES, type Change } from '../../sound/layers.ts';
import { setChange, unpin, usePlayer } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';

const CHANGE_WORDS: Record<Change, string> = {
  bar: 'at the next bar',
  round: 'at the next round',
  once: 'at once',
};

/** What goes on playing while the arrows try others. */
export function PinsBox() {
  const { pins, change } = usePlayer();
  if (pins.length === 0) return null;
  return (
    <section aria-label="Pins" className="grid grid-cols-[minmax(0,1fr)] gap-1 border-t border-rule pt-3">
      <div className="flex items-center justify-between gap-2">
        <h2 className="flex items-center gap-1.5">
          <Pin size={13} aria-hidden="true" /> Goes on playing
        </h2>
        <Button small kind="quiet" onClick={() => unpin()}>
          Unpin all
        </Button>
      </div>
      <ul>
        {pins.map(({ id, title, clip }) => (
          <li key={id} className="flex items-center gap-2">
            <RoleMark role={clip.role} bare />
            <span className="min-w-0 flex-1 truncate" title={title}>
              {title}
            </span>
            <button
              type="button"
              className="flex size-6 items-center justify-center text-muted hover:text-ink"
              aria-label={`Unpin ${title}`}
              onClick={() => unpin(id)}
            >
              <X size={12} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      <label className="flex items-center gap-2 text-sm">
        <span className="text-muted">Others begin</span>
        <select
          className="field h-6 flex-1 text-sm"
          value={change}
          onChange={({ target }) => setChange(target.value as Change)}
        >
          {CHANGES.map((one) => (
            <option key={one} value={one}>
              {CHANGE_WORDS[one]}
            </option>
          ))}
        </select>
      </label>
    </section>
  );
}
