import { Check, CircleHelp, X } from 'lucide-react';
import { useState } from 'react';
import { activityOf, useRecorder, type SourceState } from '../../devices/recorder.ts';
import { useStandIns } from '../../devices/stand-ins.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

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

/** One cause: true where it is ruled out, false where it is the trouble, null where it cannot be seen from here. */
interface Cause {
  ruledOut: boolean | null;
  title: string;
  way: string;
}

function CauseList() {
  const state = useRecorder();
  const standIns = useStandIns();
  const causes = causesOf(state, (id) => standIns[id]?.playing ?? false);
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

/** The causes in the order in which one would look for them. */
export function causesOf(
  { sources, access }: { sources: readonly SourceState[]; access: string },
  plays: (id: string) => boolean,
): Cause[] {
  const armed = sources.filter((source) => source.armed && !source.lost);
  const devices = armed.filter(({ kind }) => kind === 'device');
  const messages = armed.reduce((sum, { id }) => sum + activityOf(id).messages, 0);
  const notes = armed.some(({ id }) => activityOf(id).at.some((at) => at > -Infinity));
  const standIns = armed.filter(({ kind }) => kind === 'stand-in');
  return [
    {
      ruledOut: armed.length > 0,
      title: 'A source is ticked',
      way: 'Tick the source at the left; only ticked ones are recorded.',
    },
    {
      ruledOut: devices.length > 0 ? true : access === 'ready' || standIns.length > 0 ? null : false,
      title: 'The page may hear MIDI devices',
      way:
        access === 'unasked'
          ? 'Press "Look for devices" and allow it.'
          : access === 'absent'
            ? 'This browser has no Web MIDI. Use one that has, or take in files.'
            : access === 'refused'
              ? 'Allow MIDI for this page in the settings of the site.'
              : 'A device that is plugged in shows up by itself. Try another cable or port: many cables only charge.',
    },
    {
      ruledOut: sources.some(({ lost, armed: ticked }) => lost && ticked) ? false : true,
      title: 'The source is still connected',
      way: 'It was unplugged or switched off. Connect it again; it comes back by itself.',
    },
    {
      ruledOut: messages > 0 ? true : standIns.some(({ id }) => plays(id)) ? true : null,
      title: 'It sends on this port',
      way: 'Choose this port as the output in the device or program. Another program may hold the port: close it there.',
    },
    {
      ruledOut: messages === 0 ? null : notes,
      title: 'It sends notes, not only a clock',
      way: 'Press play on it, or hold the keys that set it off. Some send notes only while their own track is armed.',
    },
    {
      ruledOut: notes ? true : null,
      title: 'Nothing on the way swallows them',
      way: 'Local off, channel filters, "transport only" and thru boxes drop notes: send on all channels, filters off.',
    },
    {
      ruledOut: notes ? true : null,
      title: 'The generator is not locked inside another program',
      way: 'One that sounds inside another program sends nothing out until it is given a virtual MIDI port, or exports files.',
    },
  ];
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
            virtual port. Where a generator offers "MIDI out" or "send to track", switch it on.
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
