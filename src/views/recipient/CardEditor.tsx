import { mergedFields } from '../../core/merge/three-way.ts';
import { useMutation } from '@tanstack/react-query';
import equal from 'fast-deep-equal';
import { useNavigate } from 'react-router';
import { READ_CLEFS, TRANSPOSING, type Card } from '../../core/exchange/card.ts';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { useActions } from '../../ui/actions.ts';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { useFollowed, useHistory } from '../../ui/history/history.ts';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { RenameField } from '../../ui/fields/RenameField.tsx';
import { ChoiceField, SelectField } from '../../ui/fields/SelectField.tsx';
import { UndoButtons } from '../../ui/history/UndoButtons.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, useBaskets, type RecipientWire } from '../api/queries.ts';
import { AS_WORDS, FormatField, LAYOUT_WORDS, TicksField } from '../shared/leaving/file-fields.tsx';
import { KeyPairs } from '../shared/KeyPairs.tsx';
import type { SetCard } from './set-card.ts';
import { CardRoles } from './CardRoles.tsx';
import { LearnKit } from './LearnKit.tsx';

/** A recipient's name and card as they are edited. */
interface Edited {
  name: string;
  card: Card;
}

/** A recipient's card: what somebody has at their place. What is changed is applied to what leaves from then on. */
export function CardEditor({ recipient }: { recipient: RecipientWire }) {
  const { id, name, card } = recipient;
  const kept: Edited = { name, card };
  const history = useHistory(`recipient ${id}`, kept, `/handoff/recipients/${id}`);
  const { value, base, set, settle } = history;
  const isBehind = useFollowed(history, `recipient ${id}`, kept, mergedFields);
  const isChanged = !equal(value, base);
  const save = useMutation({
    mutationFn: () => sendJson<RecipientWire>('PATCH', `/api/recipients/${id}`, { ...value, base }),
    onError: tellProblem,
    onSuccess: async (saved) => {
      settle({ name: saved.name, card: saved.card });
      await renew('recipients', 'baskets');
    },
  });
  useActions('Recipient', [
    { title: 'Save the card', keys: ['Ctrl+s'], run: () => isChanged && save.mutate() },
  ]);
  const setCard: SetCard = (change, label) => set((old) => ({ ...old, card: change(old.card) }), label);
  const put = (part: Partial<Card>, label: string) => setCard((old) => ({ ...old, ...part }), label);
  return (
    <div className="min-w-0 flex-1 overflow-auto px-5 pt-3 pb-8">
      <header className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="min-w-0 flex-1 text-xl">
          <RenameField
            label="Name of the recipient"
            value={value.name}
            onRename={(next) => set((old) => ({ ...old, name: next }), 'name')}
          />
        </h1>
        <UndoButtons history={history} />
        <RemoveButton recipient={recipient} />
        <Button kind="primary" disabled={!isChanged || save.isPending} onClick={() => save.mutate()}>
          {isChanged ? 'Save' : 'Saved'}
        </Button>
      </header>
      {isBehind && (
        <div
          role="alert"
          className="mb-3 flex items-center gap-3 border-l-3 border-l-madder bg-card p-2 text-sm"
        >
          Another window has changed this card since you began.
          <Button small onClick={() => settle(kept)}>
            Take theirs
          </Button>
        </div>
      )}
      <p className="mb-4 text-sm text-muted">
        Applied on the way out only, in this order: keys of the kit, level, shift, length, octave. What stands
        in the library stays as it is.
      </p>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-6">
        <CardRoles card={value.card} set={setCard} />
        <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-8 narrow:grid-cols-1">
          <Kit card={value.card} set={setCard} />
          <Files card={value.card} put={put} />
        </div>
      </div>
    </div>
  );
}

function Kit({ card, set }: { card: Card; set: SetCard }) {
  return (
    <section aria-label="Their kit" className="grid content-start gap-1.5">
      <h2 className="text-lg">Their kit</h2>
      {card.drumMap.length === 0 && (
        <p className="text-sm text-muted">Pieces are on the keys of General MIDI until others are said.</p>
      )}
      <LearnKit pairs={card.drumMap} set={set} />
      <KeyPairs
        pairs={card.drumMap}
        between="is on their"
        add="A piece on another key"
        onChange={(drumMap) => set((old) => ({ ...old, drumMap }), 'keys of the kit')}
      />
    </section>
  );
}

const READ_WORDS: Readonly<Record<Card['reads'], string>> = {
  nothing: 'no sheets',
  lead: 'lead sheets',
  score: 'scores',
  tab: 'tablature',
};

function Files({ card, put }: { card: Card; put: (part: Partial<Card>, label: string) => void }) {
  return (
    <section aria-label="What they open" className="grid content-start gap-2">
      <h2 className="text-lg">What they open</h2>
      <div className="grid grid-cols-2 gap-x-3 gap-y-1.5">
        <FormatField value={card.format} onChange={(format) => put({ format }, 'format')} />
        <TicksField value={card.ppq} open="any" onChange={(ppq) => put({ ppq }, 'resolution')} />
        <ChoiceField label="Files" words={AS_WORDS} value={card.as} onChange={(as) => put({ as }, 'files')} />
        <ChoiceField
          label="In a pack they lie"
          words={LAYOUT_WORDS}
          value={card.layout}
          onChange={(layout) => put({ layout }, 'folders')}
        />
        <SelectField
          label="Middle C is their"
          value={card.middleC}
          onChange={(octave) => put({ middleC: Number(octave) as Card['middleC'] }, 'middle C')}
        >
          {[3, 4, 5].map((octave) => (
            <option key={octave} value={octave}>
              C{octave}
            </option>
          ))}
        </SelectField>
        <NumberField
          label="Bends reach, semitones"
          min={1}
          max={24}
          value={card.bendRange}
          onChange={(bendRange) => put({ bendRange }, 'bend range')}
        />
        <NumberField
          label="Everything softer by, dB"
          min={0}
          max={24}
          step={0.5}
          value={card.headroomDb}
          onChange={(headroomDb) => put({ headroomDb }, 'headroom')}
        />
        <ChoiceField
          label="They read"
          words={READ_WORDS}
          value={card.reads}
          onChange={(reads) => put({ reads }, 'what they read')}
        />
        <SelectField
          label="Their instrument sounds in"
          value={card.transposes}
          onChange={(transposes) =>
            put({ transposes: transposes as Card['transposes'] }, 'transposing instrument')
          }
        >
          {TRANSPOSING.map((one) => (
            <option key={one} value={one}>
              {one}
            </option>
          ))}
        </SelectField>
        <SelectField
          label="They read tunes in"
          value={card.clef ?? ''}
          onChange={(clef) => put({ clef: (clef || undefined) as Card['clef'] }, 'clef')}
        >
          <option value="">the clef that suits</option>
          {READ_CLEFS.map((one) => (
            <option key={one} value={one}>
              {one} clef
            </option>
          ))}
        </SelectField>
      </div>
      <Checkbox
        label="their sounds know the pedal"
        title="Where they do not, notes are held as long as the pedal held them"
        on={card.pedal}
        onChange={(pedal) => put({ pedal }, 'pedal')}
      />
      <Checkbox
        label="a preview beside each file of a pack"
        on={card.previews}
        onChange={(previews) => put({ previews }, 'previews')}
      />
    </section>
  );
}

function RemoveButton({ recipient }: { recipient: RecipientWire }) {
  const navigate = useNavigate();
  const { data: baskets = [] } = useBaskets();
  const theirs = baskets.filter((basket) => basket.recipient === recipient.name).length;
  const remove = useMutation({
    mutationFn: () => sendJson('DELETE', `/api/recipients/${recipient.id}`),
    onError: tellProblem,
    onSuccess: async () => {
      await renew('recipients', 'baskets', 'basket');
      void navigate('/handoff/recipients');
      toastWithUndo(`${recipient.name} is removed. Baskets for them stay.`, 'removing', () => {
        sendJson('POST', '/api/recipients', { name: recipient.name, card: recipient.card })
          .then(() => renew('recipients'))
          .catch(tellProblem);
      });
    },
  });
  return (
    <Button
      kind="quiet"
      small
      title={theirs > 0 ? `${plural(theirs, 'basket')} will be for nobody in particular` : undefined}
      onClick={() => remove.mutate()}
    >
      Remove
    </Button>
  );
}
