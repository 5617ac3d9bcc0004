import { Popover } from 'radix-ui';
import { SlidersHorizontal } from 'lucide-react';
import { FASTEST, SLOWEST, type OwnOut } from '../../core/exchange/own-out.ts';
import type { FittingOut } from '../../core/exchange/out-options.ts';
import { TONICS } from '../../core/music/key.ts';
import { isKeyChoice, KEY_CHOICES } from '../../core/reuse/in-project.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { PopoverCard } from '../../ui/PopoverCard.tsx';
import { FITTING_WORDS, KEY_WORDS } from '../shared/leaving/file-fields.tsx';

const AS_BASKET = 'as the basket';

/** Such as "on Eb, 96 BPM, plain": what of it is otherwise than the basket. No key moves drums: of them none is said. */
export function ownWords({ key, bpm, fitting }: OwnOut, isMoved = true): string {
  return [
    isMoved && key && (isKeyChoice(key) ? KEY_WORDS[key] : `on ${key}`),
    bpm && `${bpm} BPM`,
    fitting && FITTED[fitting],
  ]
    .filter(Boolean)
    .join(', ');
}

const FITTED: Readonly<Record<FittingOut, string>> = {
  plain: 'plain',
  own: 'fitted to its own sound',
  card: 'fitted to what they have',
};

/** How a phrase leaves of its own: key, tempo, plain or fitted, each as the basket where nothing is said. */
export function OwnWay({
  name,
  own,
  count,
  hasProject,
  hasRecipient,
  isOpen,
  onOpen,
  onChange,
}: {
  name: string;
  own: OwnOut;
  /** How many phrases it is said of. */
  count: number;
  hasProject: boolean;
  hasRecipient: boolean;
  isOpen: boolean;
  onOpen: (isOpen: boolean) => void;
  onChange: (own: OwnOut) => void;
}) {
  const words = ownWords(own);
  return (
    <Popover.Root open={isOpen} onOpenChange={onOpen}>
      <Popover.Trigger
        className={`grid size-6 place-items-center rounded-[3px] hover:bg-thread ${words ? 'text-madder' : 'text-muted'}`}
        aria-label={`How ${name} leaves`}
        title={words ? `Leaves ${words} (L)` : 'Leaves as the basket does (L)'}
      >
        <SlidersHorizontal size={14} />
      </Popover.Trigger>
      <PopoverCard label={`How ${name} leaves`} className="w-72">
        <p className="mb-2 text-sm text-muted">
          {count > 1 ? `The ${count} chosen phrases` : 'This phrase'}, otherwise than the rest of the basket.
        </p>
        <div className="grid gap-1.5">
          <SelectField
            label="Key"
            value={own.key ?? ''}
            onChange={(key) => onChange({ ...own, key: key || undefined })}
          >
            <option value="">{AS_BASKET}</option>
            {KEY_CHOICES.map((choice) => (
              <option key={choice} value={choice} disabled={choice === 'project' && !hasProject}>
                {KEY_WORDS[choice]}
              </option>
            ))}
            <optgroup label="Moved to the tonic">
              {TONICS.map((tonic) => (
                <option key={tonic} value={tonic}>
                  {tonic}
                </option>
              ))}
            </optgroup>
          </SelectField>
          <NumberField
            label="Tempo"
            min={SLOWEST}
            max={FASTEST}
            step={0.1}
            value={own.bpm ?? null}
            empty={AS_BASKET}
            onChange={(bpm) => onChange({ ...own, bpm: bpm ?? undefined })}
          />
          <SelectField
            label="Fitted"
            value={own.fitting ?? ''}
            onChange={(fitting) =>
              onChange({ ...own, fitting: (fitting || undefined) as FittingOut | undefined })
            }
          >
            <option value="">{AS_BASKET}</option>
            {(Object.entries(FITTING_WORDS) as [FittingOut, string][]).map(([fitting, text]) => (
              <option key={fitting} value={fitting} disabled={fitting === 'card' && !hasRecipient}>
                {text}
              </option>
            ))}
          </SelectField>
          <Button small disabled={!words} onClick={() => onChange({})}>
            All of it as the basket
          </Button>
        </div>
      </PopoverCard>
    </Popover.Root>
  );
}
