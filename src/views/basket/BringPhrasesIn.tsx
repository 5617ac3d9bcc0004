import { useState, type ReactNode } from 'react';
import { plural } from '../../core/words.ts';
import type { Role } from '../../core/split/roles.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { useBasket, useBaskets, useProjects } from '../api/queries.ts';
import { useChoosing } from '../shared/choosing.ts';
import { usePhraseList } from '../shared/phrases/filter.ts';
import { broughtIn, type Along, type BasketRow } from './edit.ts';

/** Where phrases can be brought from: "basket ID" or "project NAME". */
type From = string;

interface Row {
  id: string;
  name: string;
  role: Role;
  bars: number;
}

interface BringProps {
  /** What is in the basket already. */
  ids: readonly string[];
  onBring: (rows: BasketRow[], from: string) => void;
  onHear: (id: string) => void;
  onClose: () => void;
}

/** Phrases of another basket, or of a project: which of them, each to be heard. It is one change, and taken back as one. */
export function BringPhrasesIn({ basketId, ...props }: BringProps & { basketId: string }) {
  const { data: all = [] } = useBaskets();
  const { data: projects = [] } = useProjects();
  const baskets = all.filter(({ id }) => id !== basketId);
  const [chosen, choose] = useState<From>();
  const from =
    chosen ?? (baskets[0] ? `basket ${baskets[0].id}` : projects[0] && `project ${projects[0].name}`);
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && props.onClose()}
      title="Bring phrases in"
      description="Phrases of another basket, or of a project. What is here already says so."
    >
      {from === undefined ? (
        <p className="text-muted">There is no other basket and no project yet.</p>
      ) : (
        <>
          <SelectField label="From" className="mb-3" value={from} onChange={choose}>
            <optgroup label="Baskets">
              {baskets.map(({ id, name }) => (
                <option key={id} value={`basket ${id}`}>
                  {name}
                </option>
              ))}
            </optgroup>
            <optgroup label="Projects">
              {projects.map(({ id, name }) => (
                <option key={id} value={`project ${name}`}>
                  {name}
                </option>
              ))}
            </optgroup>
          </SelectField>
          {from.startsWith('basket ') ? (
            <OfBasket key={from} id={from.slice(7)} {...props} />
          ) : (
            <OfProject key={from} name={from.slice(8)} {...props} />
          )}
        </>
      )}
    </Dialog>
  );
}

function OfBasket({ id, ...props }: BringProps & { id: string }) {
  const { data, error } = useBasket(id);
  if (!data) return <p className="text-muted">{error?.message ?? 'Opening it ...'}</p>;
  return <Ticks rows={data.items} laidOut={data.rows} from={data.name} {...props} />;
}

function OfProject({ name, ...props }: BringProps & { name: string }) {
  const { data, error, hasNextPage, fetchNextPage } = usePhraseList(
    new URLSearchParams({ project: name, sort: 'name' }).toString(),
  );
  if (!data) return <p className="text-muted">{error?.message ?? 'Opening it ...'}</p>;
  const rows = data.pages.flatMap(({ phrases }) => phrases);
  return (
    <Ticks rows={rows} from={name} {...props}>
      {hasNextPage && (
        <Button small onClick={() => void fetchNextPage()}>
          More of them
        </Button>
      )}
    </Ticks>
  );
}

function Ticks({
  rows,
  laidOut,
  from,
  ids,
  onBring,
  onHear,
  onClose,
  children,
}: BringProps & {
  rows: readonly Row[];
  /** How they stand in their basket, where they come from one. */
  laidOut?: readonly BasketRow[];
  from: string;
  children?: ReactNode;
}) {
  const [along, setAlong] = useState<Along>({ headings: true, own: true });
  const there = new Set(ids);
  const open = rows.flatMap(({ id }) => (there.has(id) ? [] : [id]));
  const { chosen: ticked, choose, chooseThese } = useChoosing(rows);
  const chosen = open.filter((id) => ticked.has(id));
  return (
    <>
      {rows.length === 0 && <p className="mb-3 text-muted">There is no phrase there.</p>}
      <ul aria-label="Phrases" className="mb-3 max-h-72 overflow-auto border-y border-rule">
        {rows.map(({ id, name, role, bars }) => (
          <li key={id} className="quiet-row flex items-center gap-3 py-1">
            <span className="min-w-0 flex-1">
              {there.has(id) ? (
                <span className="flex min-h-6 items-center text-sm text-muted">{name}, here already</span>
              ) : (
                <Checkbox label={name} on={ticked.has(id)} onChange={() => choose(id)} />
              )}
            </span>
            <span className="w-14 text-right text-sm text-muted">{plural(bars, 'bar')}</span>
            <span className="w-20">
              <RoleMark role={role} />
            </span>
            <Button small aria-label={`Listen to ${name}`} onClick={() => onHear(id)}>
              Listen
            </Button>
          </li>
        ))}
      </ul>
      {laidOut && <AlongFields laidOut={laidOut} along={along} onChange={setAlong} />}
      <div className="flex items-center gap-2">
        <Button small disabled={open.length === 0} onClick={() => chooseThese(open)}>
          Tick all
        </Button>
        {children}
        <span className="ml-auto flex gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button
            kind="primary"
            disabled={chosen.length === 0}
            onClick={() => {
              onBring(broughtIn(chosen, laidOut ?? [], along), from);
              onClose();
            }}
          >
            {chosen.length === 0 ? 'Choose phrases' : `Bring ${plural(chosen.length, 'phrase')} in`}
          </Button>
        </span>
      </div>
    </>
  );
}

/** What comes along with phrases of another basket; nothing is asked where there is nothing. */
function AlongFields({
  laidOut,
  along,
  onChange,
}: {
  laidOut: readonly BasketRow[];
  along: Along;
  onChange: (along: Along) => void;
}) {
  const hasHeadings = laidOut.some(({ heading }) => heading !== undefined);
  const hasOwn = laidOut.some(({ own }) => own);
  if (!hasHeadings && !hasOwn) return null;
  return (
    <fieldset className="mb-3 flex items-center gap-4">
      <legend className="float-left mr-4 text-sm text-muted">What comes along</legend>
      {hasHeadings && (
        <Checkbox
          label="their headings"
          on={along.headings}
          onChange={(headings) => onChange({ ...along, headings })}
        />
      )}
      {hasOwn && (
        <Checkbox
          label="how they leave of their own"
          on={along.own}
          onChange={(own) => onChange({ ...along, own })}
        />
      )}
    </fieldset>
  );
}
