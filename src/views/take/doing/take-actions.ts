import type { PartLoop } from '../../../core/analyze/part-loops.ts';
import { UNPITCHED } from '../../../core/split/roles.ts';
import { useActions } from '../../../ui/actions.ts';
import { CLOSER } from '../../../ui/drawing/ZoomButtons.tsx';
import type { TakeDoing } from './doing.ts';
import type { useTakeListening } from '../listening.ts';
import type { MusicDoing } from './music-doing.ts';
import type { Selection } from '../selection.ts';
import type { useWorthALook } from '../worth/worth.ts';

export type TakeDialog = 'apart' | 'give' | 'sound' | 'pitchMap' | 'fill' | null;

/** What the keys of a take's page work on. */
interface TakeKeys {
  selection: Selection;
  doing: TakeDoing;
  worth: ReturnType<typeof useWorthALook>;
  hearing: ReturnType<typeof useTakeListening>;
  music: MusicDoing;
  /** Of the chosen part. */
  bestLoop: PartLoop | undefined;
  onListen: () => void;
  onMake: () => void;
  /** For the chosen parts. */
  onToggle: (what: 'solo' | 'mute' | 'open') => void;
  onDialog: (dialog: TakeDialog) => void;
  onNames: () => void;
  onZoom: (factor: number) => void;
  onWhole: () => void;
  onSide: () => void;
  onChordLine: () => void;
  /** Downloads what is at an address under the take's. */
  onExport: (what: string) => void;
  /** Opens how the chosen bars of the chosen parts leave; all of it where nothing is chosen. */
  onLeave: () => void;
  /** Plays the chosen bars into a source, whose answer is recorded. */
  onPlayInto: () => void;
  /** Opens what is known of the take. */
  onEdit: () => void;
}

/** Goes to a field by its name, with what it holds chosen. */
function focusField(label: string): void {
  document.querySelector<HTMLInputElement>(`[aria-label="${label}"]`)?.select();
}

/** Everything that can be done on a take's page, with its keys. */
export function useTakeActions(keys: TakeKeys): void {
  const { selection, doing, worth, hearing, music, bestLoop } = keys;
  const {
    onListen,
    onMake,
    onToggle,
    onDialog,
    onNames,
    onZoom,
    onWhole,
    onSide,
    onChordLine,
    onExport,
    onLeave,
    onPlayInto,
    onEdit,
  } = keys;
  const { selected, range, notes } = selection;
  const isNotes = selection.choosing === 'notes';
  useActions('Take', [
    { title: 'Listen to the chosen bars, or stop', keys: [' '], run: () => onListen() },
    { title: 'Choose the part above', keys: ['ArrowUp'], run: () => selection.step(-1, false) },
    { title: 'Choose the part below', keys: ['ArrowDown'], run: () => selection.step(1, false) },
    { title: 'Choose the part above too', keys: ['Shift+ArrowUp'], run: () => selection.step(-1, true) },
    { title: 'Choose the part below too', keys: ['Shift+ArrowDown'], run: () => selection.step(1, true) },
    ...(isNotes
      ? [
          { title: 'Choose the note before', keys: ['ArrowLeft'], run: () => selection.stepNote(-1, false) },
          { title: 'Choose the next note', keys: ['ArrowRight'], run: () => selection.stepNote(1, false) },
          {
            title: 'Choose the note before too',
            keys: ['Shift+ArrowLeft'],
            run: () => selection.stepNote(-1, true),
          },
          {
            title: 'Choose the next note too',
            keys: ['Shift+ArrowRight'],
            run: () => selection.stepNote(1, true),
          },
          { title: 'Choose no notes', keys: ['Escape'], run: () => selection.setNotes([]) },
        ]
      : [
          {
            title: 'Move the chosen bars back by one',
            keys: ['ArrowLeft'],
            run: () => selection.moveRange(-1, false),
          },
          {
            title: 'Move the chosen bars on by one',
            keys: ['ArrowRight'],
            run: () => selection.moveRange(1, false),
          },
          { title: 'Choose a bar less', keys: ['Shift+ArrowLeft'], run: () => selection.moveRange(-1, true) },
          { title: 'Choose a bar more', keys: ['Shift+ArrowRight'], run: () => selection.moveRange(1, true) },
          { title: 'Choose no bars', keys: ['Escape'], run: () => selection.setRange(null) },
        ]),
    {
      title: 'Choose notes, or bars',
      keys: ['n'],
      run: () => selection.setChoosing(isNotes ? 'bars' : 'notes'),
    },
    { title: 'Choose the notes of the chosen bars', keys: ['Ctrl+a'], run: doing.chooseAllNotes },
    { title: 'Make a phrase of the chosen bars', keys: ['Enter'], run: onMake },
    { title: 'Solo the chosen parts', keys: ['s'], run: () => onToggle('solo') },
    { title: 'Mute the chosen parts', keys: ['m'], run: () => onToggle('mute') },
    {
      title: 'Set the chosen notes aside, or the chosen parts',
      keys: ['a'],
      run: () => (notes.size > 0 ? doing.setNotesAside() : doing.setAside(selection.partIds)),
    },
    {
      title: 'Set the chosen bars of the chosen parts aside',
      keys: ['b'],
      run: () => range && doing.setBarsAside(range),
    },
    {
      title: 'Merge the chosen parts into the first',
      keys: ['j'],
      run: () => doing.merge(),
      words: 'join combine',
    },
    { title: 'Take the part apart', keys: ['d'], run: () => selected.length === 1 && onDialog('apart') },
    { title: 'Give the chosen notes to a part', keys: ['g'], run: () => notes.size > 0 && onDialog('give') },
    { title: 'Lock or unlock the chosen notes', keys: ['l'], run: doing.lockNotes },
    { title: 'Channel and sound of the part', run: () => selected.length === 1 && onDialog('sound') },
    {
      title: 'Drum map of the part',
      run: () => selected.length === 1 && UNPITCHED.has(selected[0]!.part.role) && onDialog('pitchMap'),
    },
    { title: 'Look at the next proposal', keys: ['p'], run: worth.next },
    { title: 'Accept the proposal', keys: ['y'], run: worth.acceptCurrent },
    { title: 'Refuse the proposal', keys: ['x'], run: worth.refuseCurrent },
    { title: 'Accept all that mends the take', keys: ['Y'], run: worth.onAcceptAll },
    {
      title: 'Hear the chosen parts with the others under them, or alone',
      keys: ['u'],
      run: () => hearing.setWithOthers(!hearing.withOthers),
    },
    { title: 'Draw the chosen parts taller, or lower', keys: ['t'], run: () => onToggle('open') },
    { title: 'Write the names of notes, or not', keys: ['w'], run: onNames },
    { title: 'Closer', keys: ['+'], run: () => onZoom(CLOSER) },
    { title: 'Farther', keys: ['-'], run: () => onZoom(1 / CLOSER) },
    { title: 'Show the whole take', keys: ['0'], run: onWhole },
    {
      title: 'Tell of the take, or of the part',
      keys: ['i'],
      run: onSide,
    },
    {
      title: 'Listen to the best loop of the part',
      keys: ['r'],
      run: () => bestLoop && music.hear(bestLoop),
    },
    {
      title: 'Hear the seam of the best loop',
      keys: ['R'],
      run: () => bestLoop && music.hearSeam(bestLoop),
    },
    {
      title: 'Keep the chosen bars of the chosen parts as a phrase or a sheaf',
      keys: ['k'],
      run: () => range && music.keep(selection.partIds, range),
    },
    { title: 'Go to the chord line', keys: ['h'], run: onChordLine },
    {
      title: 'How the take leaves, or what is chosen of it',
      keys: ['Ctrl+Shift+e'],
      run: onLeave,
      words: 'export save file midi format key kit controllers count-in recipient pack',
    },
    {
      title: 'Repeat the take to fill bars',
      run: () => onDialog('fill'),
      words: 'loop pattern rounds longer extend',
    },
    {
      title: 'Play the chosen bars into a source, and record its answer',
      run: onPlayInto,
      words: 'device generator arpeggiator prompt trigger send',
    },
    {
      title: 'Export the part as .mid',
      run: () => selected[0] && onExport(`parts/${selected[0].part.id}`),
      words: 'download save file midi stem',
    },
    {
      title: 'Export all parts as one .mid',
      keys: ['Ctrl+e'],
      run: () => onExport('parts?as=file'),
      words: 'download save file midi whole take',
    },
    {
      title: 'Export a file a part (.zip)',
      run: () => onExport('parts?as=zip'),
      words: 'download save files midi stems zip',
    },
    { title: 'The original file', run: () => onExport('file'), words: 'download export save bytes' },
    { title: 'Rename the part', run: () => focusField('Name of the part'), words: 'name title call' },
    { title: 'Rename the take', run: () => focusField('Name of the take'), words: 'name title call' },
    {
      title: 'Edit what is known of the take',
      run: onEdit,
      words: 'source contributor whose rights chart bars tempo key asked',
    },
  ]);
}
