import { Link } from 'react-router';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import type { PhraseWire } from '../../api/queries.ts';

/** The other phrases of a sheaf. */
export function SheafList({ siblings }: { siblings: PhraseWire['siblings'] }) {
  return (
    <ul>
      {siblings.map((sibling) => (
        <li key={sibling.id} className="flex items-center gap-2 py-0.5">
          <RoleMark role={sibling.role} bare />
          <Link className="truncate" to={`/normalize/${sibling.id}`}>
            {sibling.name}
          </Link>
        </li>
      ))}
    </ul>
  );
}
