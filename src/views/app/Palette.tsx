import { Command } from 'cmdk';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { hear, hearNextWay, playOrStop, usePlayer } from '../../sound/player.ts';
import { currentActions, keyWords, useActions, type ActionGroup } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { openHistory, useLastDeed } from './HistoryMenu.tsx';
import { editProject } from './ProjectPicker.tsx';
import { changeTheme } from '../shared/ThemeSwitch.tsx';

/** Every action there is right now, found by typing: opened with Ctrl K. */
export function Palette({ onSheet }: { onSheet: () => void }) {
  const [groups, setGroups] = useState<ActionGroup[] | null>(null);
  const open = () => setGroups(currentActions());
  const navigate = useNavigate();
  const last = useLastDeed();
  const go = (path: string) => () => void navigate(path);
  useActions('Everywhere', [
    { title: 'All actions', keys: ['Ctrl+k'], run: open },
    { title: 'All shortcuts', keys: ['?'], run: onSheet },
    { title: 'Go to Capture', keys: ['Alt+1'], run: go('/capture') },
    { title: 'Go to Split', keys: ['Alt+2'], run: go('/split') },
    { title: 'Go to Normalize', keys: ['Alt+3'], run: go('/normalize') },
    { title: 'Go to the library', keys: ['Alt+4'], run: go('/library') },
    { title: 'Go to Reuse', keys: ['Alt+5'], run: go('/reuse'), words: 'through chords children made' },
    { title: 'Go to Hand off', keys: ['Alt+6'], run: go('/handoff'), words: 'baskets pack send export' },
    { title: 'Record live', run: go('/capture/live'), words: 'capture device take live' },
    {
      title: 'Open the house standard',
      run: go('/house'),
      words: 'settings preferences levels velocity reference key octave names house',
    },
    {
      title: 'The harmony of the whole library',
      run: go('/library/harmony'),
      words: 'chords progressions keys',
    },
    { title: 'Who works here', run: go('/people'), words: 'people accounts invite password sign' },
    { title: 'Take back what was done last', keys: ['Ctrl+z'], run: last.undo, words: 'undo' },
    {
      title: 'Do again what was taken back',
      keys: ['Ctrl+y', 'Ctrl+Shift+z'],
      run: last.redo,
      words: 'redo',
    },
    { title: 'What was done in this window', keys: ['Alt+z'], run: openHistory, words: 'history undo list' },
    { title: 'New project', run: () => editProject('new'), words: 'make create show song' },
    { title: 'Change the project', run: () => editProject('current'), words: 'edit key tempo chords chart' },
    { title: 'Listen again or stop', keys: ['Ctrl+ '], run: () => void playOrStop() },
    { title: 'Loop on or off', keys: ['o'], run: () => hear({ loop: !usePlayer.getState().loop }) },
    {
      title: "Hear in its own key, in the project's, through the project's chords",
      keys: ['e'],
      words: 'listen transpose tempo',
      run: hearNextWay,
    },
    { title: 'Change between day and lamp', run: changeTheme, words: 'theme dark light' },
  ]);
  return (
    <>
      <Button kind="quiet" onClick={open}>
        <span className="middling:sr-only brief:sr-only">Actions</span>{' '}
        <kbd className="rounded-[3px] border border-rule px-1.5 whitespace-nowrap">Ctrl K</kbd>
      </Button>
      <Command.Dialog
        open={groups !== null}
        onOpenChange={(isOpen) => !isOpen && setGroups(null)}
        label="All actions"
        overlayClassName="fixed inset-0 z-40 bg-black/40"
        contentClassName="fixed top-[14vh] left-1/2 z-50 w-[min(560px,92vw)] -translate-x-1/2 rounded border border-rule bg-card shadow-xl"
      >
        <Command.Input
          placeholder="What do you want to do?"
          className="h-11 w-full border-b border-rule bg-transparent px-4 text-base"
        />
        <Command.List className="max-h-[50vh] overflow-auto p-2">
          <Command.Empty className="p-3 text-muted">Nothing of that name can be done here.</Command.Empty>
          {groups?.map(({ name, actions }) => (
            <Command.Group
              key={name}
              heading={name}
              className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-muted"
            >
              {actions.map(({ title, keys, words, run }) => (
                <Command.Item
                  key={title}
                  value={`${name} ${title}`}
                  {...(words ? { keywords: words.split(' ') } : {})}
                  onSelect={() => {
                    setGroups(null);
                    run();
                  }}
                  className="flex cursor-pointer items-center justify-between rounded-[3px] px-2 py-1.5 data-[selected=true]:bg-select"
                >
                  {title}
                  {keys?.[0] && <kbd className="text-xs text-muted">{keyWords(keys[0])}</kbd>}
                </Command.Item>
              ))}
            </Command.Group>
          ))}
        </Command.List>
      </Command.Dialog>
    </>
  );
}
