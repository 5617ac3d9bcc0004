import { group } from 'd3-array';
import { Play } from 'lucide-react';
import { Link } from 'react-router';
import { keyName } from '../../core/music/key.ts';
import { plural } from '../../core/words.ts';
import { changesClip } from '../../core/reuse/changes-clip.ts';
import type { KeptChanges } from '../../server/library/takes/harmony.ts';
import { toggleListening, usePlayer, type Listening } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { RenameField } from '../../ui/fields/RenameField.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, useKeptChanges } from '../api/queries.ts';

/** Changes that were kept, under their keys. */
export function KeptChangesList() {
  const { data } = useKeptChanges();
  const byKey = group(data ?? [], ({ keyTonic, keyMode }) => keyName({ tonic: keyTonic, mode: keyMode }));
  return (
    <>
      <div className="mb-2 flex items-baseline">
        <h2>Kept changes</h2>
        <Link className="ml-auto text-sm underline decoration-rule underline-offset-3" to="/reuse/changes">
          Write some
        </Link>
      </div>
      {data?.length === 0 && (
        <p className="text-sm text-muted">
          None yet. In a take, click a section and choose "Keep the changes".
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-auto">
        {[...byKey].map(([name, list]) => (
          <section key={name} aria-label={name} className="mb-3">
            <h3 className="text-sm text-muted">{name}</h3>
            <ul>
              {list.map((kept) => (
                <ChangesRow key={kept.id} kept={kept} />
              ))}
            </ul>
          </section>
        ))}
      </div>
    </>
  );
}

function listeningOf(kept: KeptChanges): Listening {
  const { id, name, takeName, chords, bars, bpm, keyTonic, keyMode, meterNumerator, meterDenominator } = kept;
  const clip = changesClip({
    chords,
    bars,
    bpm,
    meter: { numerator: meterNumerator, denominator: meterDenominator },
    key: { tonic: keyTonic, mode: keyMode },
  });
  return {
    id: `changes ${id}`,
    title: name,
    subtitle: takeName === null ? 'changes' : `changes of ${takeName}`,
    lanes: [{ id, clip }],
  };
}

function edit(id: string, change: { name?: string; aside?: boolean }): Promise<unknown> {
  return sendJson('PATCH', `/api/changes/${id}`, change)
    .then(() => renew('changes'))
    .catch(tellProblem);
}

function ChangesRow({ kept }: { kept: KeptChanges }) {
  const isPlaying = usePlayer(
    ({ state, listening }) => state === 'playing' && listening?.id === `changes ${kept.id}`,
  );
  const setAside = () =>
    void edit(kept.id, { aside: true }).then(() =>
      toastWithUndo(
        `"${kept.name}" is set aside`,
        'setting it aside',
        () => void edit(kept.id, { aside: false }),
      ),
    );
  return (
    <li className="quiet-row grid gap-1 py-2">
      <span className="font-display font-semibold">
        <RenameField
          label="Name of the changes"
          value={kept.name}
          onRename={(name) => void edit(kept.id, { name })}
        />
      </span>
      <span className="flex flex-wrap gap-x-2.5 text-sm">
        {kept.chords.map(({ beat, symbol, numeral }) => (
          <span key={beat}>
            {symbol || 'N.C.'} <span className="text-xs text-muted">{numeral}</span>
          </span>
        ))}
      </span>
      <span className="flex items-center gap-1.5 text-xs text-muted">
        <Button small onClick={() => void toggleListening(listeningOf(kept))}>
          <Play size={11} aria-hidden="true" /> {isPlaying ? 'Stop' : 'Listen'}
        </Button>
        <Button small onClick={setAside}>
          Set aside
        </Button>
        <Link
          to={
            kept.takeId === null
              ? `/reuse/changes?kept=${kept.id}`
              : `/split/${kept.takeId}?bars=${kept.startBar}-${kept.startBar + kept.bars - 1}`
          }
          className="ml-auto truncate underline decoration-rule underline-offset-3"
        >
          {plural(kept.bars, 'bar')}, {kept.takeName ?? 'written here'}
        </Link>
      </span>
    </li>
  );
}
