import { useQuery } from '@tanstack/react-query';
import { Play, ShoppingBasket } from 'lucide-react';
import { Link, useNavigate } from 'react-router';
import { programName } from '../../../core/midi/gm.ts';
import { keyName } from '../../../core/music/key.ts';
import type { PhraseListItem } from '../../../server/library/phrases/search.ts';
import { Button, Toggle } from '../../../ui/Button.tsx';
import { ViewLink } from '../../../ui/ButtonLink.tsx';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import { Swatch } from '../../../ui/drawing/Swatch.tsx';
import { Facts, Ticket } from '../../../ui/Ticket.tsx';
import { usePlace } from '../../../ui/history/place.ts';
import { phraseQuery, tellProblem, useBaskets } from '../../api/queries.ts';
import { chooseBasket, useCurrentBasket } from '../../shared/current-basket.ts';
import { openLeave } from '../../shared/leaving/leaving.ts';
import { ratingWords } from '../../shared/phrases/rating.ts';
import { SheafList } from '../../shared/phrases/SheafList.tsx';
import { setAsideOf, setPhraseState } from '../../shared/phrases/state.ts';
import { promptWithPhrase, sweepAddress } from '../../shared/prompt.ts';
import { Alike } from '../Alike.tsx';
import { FitReasons } from './FitReasons.tsx';
import { Relatives } from '../Relatives.tsx';

/** The chosen phrase in words, the rest of its sheaf, and the basket it can be put into. */
export function PhraseTicket({
  phrase,
  project,
  onListen,
  onHear,
  onPut,
}: {
  phrase: PhraseListItem;
  /** The project that its fit is for. */
  project: string | undefined;
  onListen: () => void;
  /** Lets another phrase be heard. */
  onHear: (id: string) => void;
  onPut: (phrases: { id: string; name: string }[]) => void;
}) {
  const [tab, setTab] = usePlace<'what' | 'fit' | 'alike'>('told of a phrase', 'what');
  const navigate = useNavigate();
  const playInto = () => void promptWithPhrase(phrase.id).then(() => navigate('/capture/live'), tellProblem);
  const { data: detail } = useQuery(phraseQuery(phrase.id));
  const siblings = detail?.siblings ?? [];
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
      <div className="flex gap-1" role="group" aria-label="What is told">
        <Toggle on={tab === 'what'} onClick={() => setTab('what')}>
          What it is
        </Toggle>
        {phrase.fit && (
          <Toggle on={tab === 'fit'} onClick={() => setTab('fit')}>
            Fit {phrase.fit.fit}
          </Toggle>
        )}
        <Toggle on={tab === 'alike'} onClick={() => setTab('alike')}>
          Alike
        </Toggle>
      </div>
      {tab === 'fit' && phrase.fit && (
        <>
          <h2 className="text-lg leading-snug">{phrase.name}</h2>
          <FitReasons fit={phrase.fit} project={project} />
        </>
      )}
      {tab === 'alike' && (
        <>
          <h2 className="text-lg leading-snug">{phrase.name}</h2>
          <Alike id={phrase.id} onChoose={onHear} />
        </>
      )}
      {(tab === 'what' || (tab === 'fit' && !phrase.fit)) && (
        <>
          <Ticket title={phrase.name}>
            <Swatch notes={phrase.swatch} role={phrase.role} bars={phrase.bars} width={214} height={52} />
            <div className="mt-2">
              <Facts
                rows={[
                  ['Role', <RoleMark key="role" role={phrase.role} />],
                  ['Key', phrase.key ? keyName(phrase.key) : 'no key'],
                  phrase.keptIn ? ['Kept in', keyName(phrase.keptIn)] : null,
                  [
                    'Length',
                    `${phrase.bars} ${phrase.bars === 1 ? 'bar' : 'bars'} of ${phrase.meterNumerator}/${phrase.meterDenominator} at ${Math.round(phrase.bpm * 10) / 10} BPM, ${phrase.noteCount} notes`,
                  ],
                  phrase.role === 'drums' ? null : ['Sound', programName(phrase.program)],
                  [
                    'From',
                    <Link
                      key="from"
                      className="underline decoration-rule underline-offset-3"
                      to={`/split/${phrase.takeId}`}
                    >
                      {phrase.takeName}, {phrase.partName}, from bar {phrase.startBar}
                    </Link>,
                  ],
                  phrase.tags.length > 0 ? ['Tags', phrase.tags.join(', ')] : null,
                  ['Rights', phrase.rights || <span className="text-muted">not said</span>],
                  phrase.contributor ? ['By', phrase.contributor] : null,
                  phrase.rating !== null ? ['Rating', ratingWords(phrase.rating)] : null,
                  phrase.numerals ? ['Changes', phrase.numerals.trim()] : null,
                ]}
              />
            </div>
            <div className="mt-3 flex flex-wrap gap-2">
              <Button small onClick={onListen}>
                <Play size={12} aria-hidden="true" /> Listen
              </Button>
              <ViewLink small to={`/normalize/${phrase.id}`}>
                Open
              </ViewLink>
              <ViewLink small to={`/reuse/through?of=${phrase.id}`}>
                Through other chords
              </ViewLink>
              {phrase.role !== 'drums' && phrase.role !== 'percussion' && (
                <ViewLink small to={`/reuse/chords?of=${phrase.id}`}>
                  Chords for it
                </ViewLink>
              )}
              <ViewLink small to={`/reuse/layer?of=${phrase.id}`}>
                A layer of it
              </ViewLink>
              <Button
                small
                onClick={() => openLeave({ kind: 'phrase', id: phrase.id })}
                title="As which files, for whom (Ctrl+Shift+E)"
              >
                How it leaves ...
              </Button>
              <Button
                small
                onClick={playInto}
                title="Play it into a device or stand-in and record the answer"
              >
                Play into ...
              </Button>
              <Button
                small
                onClick={() => void navigate(sweepAddress(phrase))}
                title="Let a source make something of it in many ways, one after another"
              >
                Sweep ...
              </Button>
              {phrase.state === 'discarded' ? (
                <Button
                  small
                  onClick={() => void setPhraseState([phrase.id], 'back').catch(tellProblem)}
                  title="Into the library again (Delete)"
                >
                  Bring back
                </Button>
              ) : (
                <Button
                  small
                  onClick={() => void setAsideOf([phrase]).catch(tellProblem)}
                  title="Not shown among the others; never deleted (Delete)"
                >
                  Set aside
                </Button>
              )}
            </div>
          </Ticket>
          <Relatives id={phrase.id} onChoose={onHear} />
          {siblings.length > 0 && (
            <section>
              <h2 className="mb-1">Its sheaf</h2>
              <p className="mb-1 text-sm text-muted">{detail?.sheafName}</p>
              <div className="mb-2">
                <SheafList siblings={siblings} />
              </div>
              <div className="flex flex-wrap gap-2">
                <Button small onClick={() => onPut([phrase, ...siblings])}>
                  Put the whole sheaf into the basket
                </Button>
                <ViewLink
                  small
                  to={`/reuse/through?of=${[phrase, ...siblings].map(({ id }) => id).join(',')}`}
                >
                  The sheaf through other chords
                </ViewLink>
              </div>
            </section>
          )}
        </>
      )}
    </div>
  );
}

/** The basket that things are put into, chosen here. */
export function BasketBox({ onPut, disabled }: { onPut: () => void; disabled: boolean }) {
  const { data: baskets = [] } = useBaskets();
  const basket = useCurrentBasket();
  return (
    <div className="grid gap-2 border-t border-rule pt-3">
      <div className="flex items-center justify-between gap-2">
        <label className="label" htmlFor="current-basket">
          Basket
        </label>
        {basket && (
          <Link className="text-sm underline decoration-rule underline-offset-3" to={`/handoff/${basket.id}`}>
            {basket.phrases} {basket.phrases === 1 ? 'phrase' : 'phrases'} in it
          </Link>
        )}
      </div>
      {baskets.length > 0 && (
        <select
          id="current-basket"
          className="field"
          value={basket?.id}
          onChange={(event) => chooseBasket(event.target.value)}
        >
          {baskets.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      )}
      <Button kind="primary" className="h-9" onClick={onPut} disabled={disabled}>
        <ShoppingBasket size={15} aria-hidden="true" /> Put into basket
      </Button>
    </div>
  );
}
