import { Play } from 'lucide-react';
import { toggleListening, type Listening } from '../../../sound/player.ts';
import { Button } from '../../../ui/Button.tsx';

/** Listens to what a view sounds, or stops it. */
export function ListenButton({ listening, isPlaying }: { listening: Listening | null; isPlaying: boolean }) {
  return (
    <Button disabled={!listening} onClick={() => listening && void toggleListening(listening)}>
      <Play size={13} aria-hidden="true" /> {isPlaying ? 'Stop' : 'Listen'}
    </Button>
  );
}
