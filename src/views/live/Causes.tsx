import { Check, CircleHelp, X } from 'lucide-react';
import { useState } from 'react';
import { activityOf } from '../../devices/hearing.ts';
import { armedSources, useRecorder } from '../../devices/recorder-state.ts';
import { useStandIns } from '../../devices/stand-ins.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { causesOf } from './causes-of.ts';

/** Why nothing arrives, and how a generator inside another program is reached. */
export function Help() {
  const [open, setOpen] = useState<'causes' | 'reach' | null>(null);
  return (
    <>
      <Button small onClick={() => setOpen('causes')}>
        Nothing arrives?
      </Button>
      <Button small onClick={() => setOpen('reach')}>
        Reaching another program
      </Button>
      <Dialog
        open={open === 'causes'}
        onOpenChange={(next) => setOpen(next ? 'causes' : null)}
        title="Nothing arrives"
        description="The causes, the likeliest first. What can be seen from here is ticked or crossed."
      >
        {open === 'causes' && <CauseList />}
      </Dialog>
      <Dialog
        open={open === 'reach'}
        onOpenChange={(next) => setOpen(next ? 'reach' : null)}
        title="Reaching a generator inside another program"
      >
        <Reach />
      </Dialog>
    </>
  );
}

function CauseList() {
  const state = useRecorder();
  const standIns = useStandIns();
  const armed = armedSources(state.sources);
  const causes = causesOf({
    ...state,
    messages: armed.reduce((sum, { id }) => sum + activityOf(id).messages, 0),
    notes: armed.some(({ id }) => activityOf(id).at.some((at) => at > -Infinity)),
    plays: armed.some(({ id }) => standIns[id]?.playing),
  });
  return (
    <ol className="grid gap-2.5">
      {causes.map(({ ruledOut, title, way }) => (
        <li key={title} className="grid grid-cols-[22px_1fr]">
          {ruledOut === null ? (
            <CircleHelp size={16} className="mt-0.5 text-muted" aria-label="cannot be seen from here" />
          ) : ruledOut ? (
            <Check size={16} className="mt-0.5 text-good" aria-label="in order" />
          ) : (
            <X size={16} className="mt-0.5 text-madder" aria-label="this is it" />
          )}
          <div>
            <b className={ruledOut === false ? 'text-madder' : ''}>{title}</b>
            {ruledOut !== true && <p className="text-sm text-muted">{way}</p>}
          </div>
        </li>
      ))}
    </ol>
  );
}

function Reach() {
  return (
    <div className="grid gap-3">
      <section>
        <h3 className="mb-1 font-semibold">Through a virtual MIDI port</h3>
        <ol className="list-decimal pl-5">
          <li>
            Make a virtual port. The operating system has one built in (on Linux <code>snd-virmidi</code> or a
            through port; elsewhere a network or inter-application bus), or a free loopback driver makes one.
          </li>
          <li>
            In the other program, put the generator on a track and send that track's MIDI output to the
            virtual port. Where a generator can send its notes on as MIDI, switch that on.
          </li>
          <li>Here, look for devices: the virtual port is in the list like any cable. Tick it.</li>
          <li>
            Let the other program send MIDI Clock and start to the same port, and record by "the source's
            clock": both then share bar one.
          </li>
          <li>Switch the generator off before you play its notes back, or everything is processed twice.</li>
        </ol>
      </section>
      <section>
        <h3 className="mb-1 font-semibold">Through an export folder</h3>
        <p>
          Many generators only drag or save files. Save them into the folder that Capture names under "Files
          and takes": what lands there is taken in when it has finished growing, and keeps its folder and
          name.
        </p>
      </section>
    </div>
  );
}
