import { useState } from 'react';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { useShortcuts } from '../../ui/shortcuts.ts';

const SHEET: [string, [string, string][]][] = [
  [
    'Everywhere',
    [
      ['Space', 'listen to what is selected, or stop'],
      ['?', 'this sheet'],
      ['Ctrl Z, Ctrl Y', 'take back, do again'],
    ],
  ],
  [
    'Library',
    [
      ['Up, Down', 'go through the list; while something sounds, the next one sounds'],
      ['Enter', 'open the phrase'],
      ['B', 'put into the basket'],
      ['/', 'search'],
    ],
  ],
  [
    'Take',
    [
      ['Up, Down', 'choose a part; with Shift, several'],
      ['Left, Right', 'move the chosen bars by one'],
      ['Shift Left, Shift Right', 'choose fewer or more bars'],
      ['S, M', 'solo, mute'],
      ['A', 'set the part aside'],
      ['Enter', 'make a phrase of the chosen bars'],
      ['+, -, 0', 'closer, farther, the whole take'],
    ],
  ],
  [
    'Phrase',
    [
      ['C', 'hear as captured, or as normalized'],
      ['+, -, 0', 'closer, farther, all bars'],
      ['Ctrl S', 'save'],
    ],
  ],
  [
    'Basket',
    [
      ['Up, Down', 'go through the phrases'],
      ['Alt Up, Alt Down', 'move the phrase'],
      ['Delete', 'take it out'],
    ],
  ],
];

/** All shortcuts on one sheet, opened with ?. */
export function ShortcutSheet() {
  const [open, setOpen] = useState(false);
  useShortcuts({ '?': () => setOpen(true) });
  return (
    <>
      <Button kind="quiet" onClick={() => setOpen(true)}>
        Shortcuts <kbd className="rounded-[3px] border border-rule px-1.5">?</kbd>
      </Button>
      <Dialog open={open} onOpenChange={setOpen} title="Shortcuts">
        <div className="grid gap-4">
          {SHEET.map(([where, keys]) => (
            <section key={where}>
              <h3 className="mb-1">{where}</h3>
              <dl className="grid grid-cols-[170px_1fr] gap-y-0.5">
                {keys.map(([key, action]) => (
                  <div key={key} className="contents">
                    <dt className="text-muted">{key}</dt>
                    <dd>{action}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
        </div>
      </Dialog>
    </>
  );
}
