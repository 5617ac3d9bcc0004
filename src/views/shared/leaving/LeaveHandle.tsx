import { DragOut } from '../../../ui/DragOut.tsx';
import { saveFile } from '../../../ui/save-file.ts';
import { tellProblem } from '../../api/queries.ts';
import { fetchLeaving, leavingAddress, type Leaves } from './leaving.ts';

/** The handle by which something is dragged out, as it last left. */
export function LeaveHandle({
  what,
  leaves,
  isQuiet = false,
}: {
  what: string;
  leaves: Leaves;
  /** Within a row that is one thing to whoever cannot see it. */
  isQuiet?: boolean;
}) {
  return (
    <DragOut
      what={what}
      isQuiet={isQuiet}
      address={leavingAddress(leaves)}
      fetch={() => fetchLeaving(leaves)}
      onSave={() => void saveLeaving(leaves)}
    />
  );
}

/** Saves something as it last left. */
export async function saveLeaving(leaves: Leaves): Promise<void> {
  try {
    const { bytes, name, type } = await fetchLeaving(leaves);
    saveFile(bytes, name, type);
  } catch (error) {
    tellProblem(error);
  }
}
