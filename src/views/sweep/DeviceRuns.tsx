import { runName } from '../../core/sweep/plan.ts';
import { askForMidi } from '../../devices/hearing.ts';
import { useRecorder } from '../../devices/recorder-state.ts';
import { knobTurned, stopSweeping, sweepDevice, useSweeping } from '../../devices/sweeping.ts';
import type { SweepDetail } from '../../server/library/takes/sweeps.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import '../shared/captures.ts';
import { heldPhrase } from './held-phrase.ts';

/** A device's runs are made by the page that has it: begun, stopped, and gone on with here. */
export function DeviceRuns({ sweep }: { sweep: SweepDetail }) {
  const { id, plan, runs } = sweep;
  const sweeping = useSweeping();
  const sources = useRecorder((state) => state.sources);
  const name = plan.source.kind === 'device' ? plan.source.name : '';
  const isThere = sources.some((source) => source.kind === 'device' && source.name === name && !source.lost);
  const isHere = sweeping.id === id;
  const run = sweeping.position === null ? undefined : runs[sweeping.position];
  const begin = () =>
    void heldPhrase(plan)
      .then((held) =>
        sweepDevice(sweep, held, {
          done: async (position, result) => {
            await sendJson('PUT', `/api/sweeps/${id}/runs/${position}`, result);
            await renew('sweep', 'takes');
          },
        }),
      )
      .catch(tellProblem);
  useActions('The runs', [
    { title: 'The knob is turned: the next run', keys: ['n'], run: () => sweeping.phase === 'knob' && knobTurned() }, // prettier-ignore
  ]);
  return (
    <div
      className="flex flex-wrap items-center gap-3 rounded-[3px] border border-rule bg-card px-3 py-2"
      role="status"
    >
      {isHere ? (
        <>
          <span>
            {sweeping.phase === 'knob' ? (
              <>
                Set the device to <b>{run && runName(plan, run.settings)}</b>, then go on.
              </>
            ) : (
              <>
                {sweeping.phase === 'recording' ? 'Recording' : 'Setting'}{' '}
                <b>{run && runName(plan, run.settings)}</b>
              </>
            )}
          </span>
          {sweeping.phase === 'knob' && (
            <Button small kind="primary" onClick={knobTurned}>
              It is set
            </Button>
          )}
          <Button small className="ml-auto" onClick={stopSweeping}>
            Stop after this run
          </Button>
        </>
      ) : isThere ? (
        <>
          <span>{name} is there. It is recorded run by run; nothing has to be touched meanwhile.</span>
          <Button small kind="primary" className="ml-auto" onClick={begin} disabled={sweeping.id !== null}>
            {runs.some(({ state }) => state !== 'waiting') ? 'Go on' : 'Begin the runs'}
          </Button>
        </>
      ) : (
        <>
          <span>{name} is not there. Plug it in, and let the page look for devices.</span>
          <Button small className="ml-auto" onClick={() => void askForMidi()}>
            Look for devices
          </Button>
        </>
      )}
      {sweeping.problem && <span className="w-full text-sm text-madder">{sweeping.problem}</span>}
    </div>
  );
}
