import { Minus, Plus } from 'lucide-react';
import { meterAt, positionAt } from '../../../core/music/timeline.ts';
import { pitchName } from '../../../core/music/pitch.ts';
import { isPitched, type Clip } from '../../../core/phrase/clip.ts';
import { kitPiece } from '../../../core/midi/gm.ts';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import type { HandEditing } from './hand-editing.ts';
import { StepNumber } from '../steps/step-inputs.tsx';

/** The notes that are chosen, in words, and what can be done to them by hand. */
export function ChosenNotes({ clip, editing }: { clip: Clip; editing: HandEditing }) {
  const { notes } = editing;
  const velocities = notes.map(({ velocity }) => velocity);
  const loudest = Math.max(...velocities);
  return (
    <div role="group" aria-label="Chosen notes" className="flex items-center gap-2 text-sm">
      <span role="status" className="min-w-0 flex-1 truncate">
        {notes.length === 0 ? (
          <span className="text-muted">
            No note chosen: click one, drag a box, or press <kbd>→</kbd>
          </span>
        ) : (
          inWords(clip, editing)
        )}
      </span>
      {notes.length > 0 && (
        <>
          <StepNumber
            label="velocity"
            name="Velocity of the chosen notes"
            before
            value={loudest}
            min={1}
            max={127}
            onValue={(to) => editing.velocity((now) => now + to - loudest)}
          />
          <Button small onClick={editing.earlier} title="By a step of the grid (Alt Left)">
            Earlier
          </Button>
          <Button small onClick={editing.later} title="By a step of the grid (Alt Right)">
            Later
          </Button>
          {isPitched(clip) && (
            <>
              <Button small aria-label="Down a semitone" onClick={() => editing.pitch(-1)}>
                ♭
              </Button>
              <Button small aria-label="Up a semitone" onClick={() => editing.pitch(1)}>
                ♯
              </Button>
            </>
          )}
          <Button small aria-label="Shorter" title="Shift Left" onClick={() => editing.longer(-1)}>
            <Minus size={12} aria-hidden="true" />
          </Button>
          <Button small aria-label="Longer" title="Shift Right" onClick={() => editing.longer(1)}>
            <Plus size={12} aria-hidden="true" />
          </Button>
          <Button small onClick={editing.remove} title="Delete">
            Delete
          </Button>
        </>
      )}
      <Button small kind="quiet" onClick={editing.add} title="N, or double-click an empty place">
        Add a note
      </Button>
    </div>
  );
}

function inWords(clip: Clip, { notes }: HandEditing): string {
  const [first] = notes;
  if (!first) return '';
  if (notes.length > 1) {
    const velocities = notes.map(({ velocity }) => velocity);
    return `${plural(notes.length, 'note')}, velocity ${Math.min(...velocities)} to ${Math.max(...velocities)}`;
  }
  const { bar, beat } = positionAt(clip.timeline, first.tick);
  const { denominator } = meterAt(clip.timeline, first.tick);
  const name = isPitched(clip) ? pitchName(first.pitch) : kitPiece(first.pitch);
  const lasts = Math.round((first.duration / clip.timeline.ppq) * (denominator / 4) * 100) / 100;
  const own = bar - (clip.pickup > 0 ? 1 : 0);
  return `${name}, ${own > 0 ? `bar ${own}` : 'pickup'} beat ${beat}, ${plural(lasts, 'beat')} long, velocity ${first.velocity}`;
}
