import type { CompTally } from '../../core/comp/comp.ts';
import type { Suggestion } from '../../core/comp/suggest.ts';
import { barsWords, tallyWords } from '../../core/comp/words.ts';
import { Button } from '../../ui/Button.tsx';

/** What can be done with the bars one is at, what is suggested, and the tally. */
export function CompBar({
  bars: { from, to },
  pass,
  canHear,
  canHearAll,
  tally,
  isSaved,
  onHear,
  onHearAll,
  onTake,
  onSuggest,
}: {
  /** From 0, the last included. */
  bars: { from: number; to: number };
  pass: number;
  canHear: boolean;
  canHearAll: boolean;
  tally: CompTally | undefined;
  isSaved: boolean;
  onHear: () => void;
  onHearAll: () => void;
  onTake: () => void;
  onSuggest: (way: Suggestion) => void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      <Button small onClick={onHear} disabled={!canHear}>
        Listen to {barsWords(from, to).toLowerCase()}
      </Button>
      <Button small onClick={onTake}>
        Take from pass {pass + 1}
      </Button>
      <Button small onClick={onHearAll} disabled={!canHearAll}>
        Listen to all that is taken
      </Button>
      <span className="ml-2 text-muted">Suggest</span>
      <Button small onClick={() => onSuggest('errors')}>
        the fewest errors
      </Button>
      <Button small onClick={() => onSuggest('fills')}>
        the most different fills
      </Button>
      <span className="ml-auto text-muted tabular-nums" role="status">
        {tally && tallyWords(tally)}
        {isSaved ? '' : ', not saved yet'}
      </span>
    </div>
  );
}
