import type { WeaveRemark } from '../../../core/weave/lay.ts';
import type { WeaveProposal } from '../../../core/weave/proposals.ts';
import { remarkWays, type WeaveWay } from '../../../core/weave/ways.ts';
import { Button } from '../../../ui/Button.tsx';

/** What could be done, each with its reason: accepted or refused one by one, or accepted together. */
export function ProposalList({
  proposals,
  onAccept,
  onRefuse,
  onPlace,
}: {
  /** Null until all that they are found from is there. */
  proposals: readonly WeaveProposal[] | null;
  onAccept: (chosen: readonly WeaveProposal[]) => void;
  onRefuse: (one: WeaveProposal) => void;
  onPlace: (section: string, part: string | null) => void;
}) {
  return (
    <section aria-label="Proposals" className="grid gap-1">
      <div className="flex items-baseline gap-2">
        <h2 className="text-base">Proposals</h2>
        {proposals && proposals.length > 1 && (
          <Button small className="ml-auto" onClick={() => onAccept(proposals)}>
            Accept all {proposals.length}
          </Button>
        )}
      </div>
      {!proposals && <p className="text-sm text-muted">Looking what could be proposed.</p>}
      {proposals?.length === 0 && <p className="text-sm text-muted">None.</p>}
      <ul>
        {proposals?.map((one) => (
          <li key={one.id} className="border-t border-thread py-1 text-sm">
            <PlaceButton onClick={() => onPlace(one.section, one.part)}>{one.text}</PlaceButton>
            <span className="mt-0.5 flex gap-1.5">
              <Button small onClick={() => onAccept([one])}>
                Accept
              </Button>
              <Button small onClick={() => onRefuse(one)}>
                Refuse
              </Button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What is told of the cells, each with its ways out. */
export function RemarkList({
  remarks,
  onWay,
  onPlace,
}: {
  remarks: readonly (WeaveRemark & { where: string })[];
  onWay: (way: WeaveWay) => void;
  onPlace: (section: string, part: string) => void;
}) {
  if (remarks.length === 0) return null;
  return (
    <section aria-label="Told" className="grid gap-1">
      <h2 className="text-base">Told</h2>
      <ul>
        {remarks.map((remark) => (
          <li
            key={`${remark.section} ${remark.part} ${remark.text}`}
            className="border-t border-thread py-1 text-sm text-muted"
          >
            <PlaceButton onClick={() => onPlace(remark.section, remark.part)}>
              {remark.where}: {remark.text}
            </PlaceButton>
            <Ways ways={remarkWays(remark)} onWay={onWay} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function PlaceButton({ onClick, children }: { onClick: () => void; children: React.ReactNode }) {
  return (
    <button type="button" className="block min-h-6 w-full text-left hover:underline" onClick={onClick}>
      {children}
    </button>
  );
}

/** Ways out, a button each. */
export function Ways({ ways, onWay }: { ways: readonly WeaveWay[]; onWay: (way: WeaveWay) => void }) {
  if (ways.length === 0) return null;
  return (
    <span className="mt-0.5 flex flex-wrap gap-1.5">
      {ways.map((way) => (
        <Button key={way.text} small onClick={() => onWay(way)}>
          {way.text}
        </Button>
      ))}
    </span>
  );
}
