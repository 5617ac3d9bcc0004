import { useQuery } from '@tanstack/react-query';
import { Play } from 'lucide-react';
import { useState } from 'react';
import { plural } from '../../core/words.ts';
import { broughtIn, type Along } from '../../core/weave/bring.ts';
import type { Weave, WeavePart } from '../../core/weave/weave.ts';
import type { WeaveDetail, WeaveItem } from '../../server/library/weaves.ts';
import { toggleListening } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { request } from '../api/client.ts';
import type { PhraseWire } from '../api/queries.ts';
import { useChoosing } from '../shared/choosing.ts';
import { swatchOf } from '../shared/phrases/swatch-of.ts';
import type { LaidSheet } from './laid.ts';
import { partAlone } from './listening.ts';
import { useLaid } from './woven.ts';

const ALONG: readonly [keyof Along, string][] = [
  ['sound', 'the sound each is played on'],
  ['level', 'how loud it is, and where it stands'],
  ['cells', 'what it plays where, in the sections that are called alike'],
  ['sections', 'sections that are not here, at the end'],
];

/** Parts of another weave: first which, each to be heard, then what comes along with them. */
export function BringIn({
  weaveId,
  onBring,
  onClose,
}: {
  weaveId: string;
  onBring: (change: (weave: Weave) => Weave, label: string) => void;
  onClose: () => void;
}) {
  const { data: weaves } = useQuery({
    queryKey: ['weaves'],
    queryFn: async () => (await request<{ weaves: WeaveItem[] }>('/api/weaves')).weaves,
  });
  const others = (weaves ?? []).filter(({ id }) => id !== weaveId);
  const [chosen, choose] = useState<string>();
  const id = chosen ?? others[0]?.id;
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Bring parts in"
      description="Parts of another weave, with what stands with them there. It is one change, and taken back as one."
    >
      {weaves && others.length === 0 && <p className="text-muted">There is no other weave yet.</p>}
      {id && (
        <>
          <SelectField label="From" className="mb-3" value={id} onChange={choose}>
            {others.map((one) => (
              <option key={one.id} value={one.id}>
                {one.title}
              </option>
            ))}
          </SelectField>
          <FromWeave key={id} id={id} onBring={onBring} onClose={onClose} />
        </>
      )}
    </Dialog>
  );
}

function FromWeave({
  id,
  onBring,
  onClose,
}: {
  id: string;
  onBring: Parameters<typeof BringIn>[0]['onBring'];
  onClose: () => void;
}) {
  const { data } = useQuery({
    queryKey: ['weave', id],
    queryFn: () => request<WeaveDetail>(`/api/weaves/${id}`),
  });
  if (!data) return <p className="text-muted">Opening it ...</p>;
  return <Lists id={id} from={data.weave} onBring={onBring} onClose={onClose} />;
}

/** The two lists of ticks. */
function Lists({
  id,
  from,
  onBring,
  onClose,
}: {
  id: string;
  from: Weave;
  onBring: Parameters<typeof BringIn>[0]['onBring'];
  onClose: () => void;
}) {
  const { laid, phrases } = useLaid(from);
  const { chosen: parts, choose } = useChoosing(from.parts);
  const [along, setAlong] = useState<Along>({ sound: true, level: true, cells: true, sections: false });
  const bring = () => {
    onBring((weave) => broughtIn(weave, from, [...parts], along), `parts of "${from.title}"`);
    onClose();
  };
  return (
    <>
      <ul aria-label="Parts" className="mb-4 max-h-64 overflow-auto border-y border-rule">
        {from.parts.map((part) => (
          <PartLine
            key={part.id}
            part={part}
            first={phrases.get(from.cells.find((cell) => cell.part === part.id)?.phrase ?? '')}
            laid={laid}
            on={parts.has(part.id)}
            onTick={() => choose(part.id)}
            onHear={(sheet) => void toggleListening(partAlone(id, from.title, sheet, part))}
          />
        ))}
      </ul>
      <fieldset className="mb-4">
        <legend className="label mb-1">What comes along; their phrases always do</legend>
        {ALONG.map(([what, words]) => (
          <Checkbox
            key={what}
            label={words}
            on={along[what] && !(what === 'sections' && !along.cells)}
            onChange={(on) => setAlong((old) => ({ ...old, [what]: on }))}
          />
        ))}
      </fieldset>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button kind="primary" disabled={parts.size === 0} onClick={bring}>
          {parts.size === 0 ? 'Choose parts' : `Bring ${plural(parts.size, 'part')} in`}
        </Button>
      </div>
    </>
  );
}

function PartLine({
  part,
  first,
  laid,
  on,
  onTick,
  onHear,
}: {
  part: WeavePart;
  /** What it plays first, by which it is known. */
  first: PhraseWire | undefined;
  laid: LaidSheet | null;
  on: boolean;
  onTick: () => void;
  onHear: (laid: LaidSheet) => void;
}) {
  return (
    <li className="quiet-row flex items-center gap-3 py-1.5">
      <span className="min-w-0 flex-1">
        <Checkbox label={part.name} on={on} onChange={onTick} />
      </span>
      <span className="text-sm text-muted">
        <RoleMark role={part.role} />
      </span>
      {first ? (
        <Swatch notes={swatchOf(first)} role={part.role} bars={first.bars} width={120} height={26} />
      ) : (
        <span className="w-[120px]" />
      )}
      <Button small disabled={!laid} aria-label={`Hear ${part.name}`} onClick={() => laid && onHear(laid)}>
        <Play size={11} aria-hidden="true" />
      </Button>
    </li>
  );
}
