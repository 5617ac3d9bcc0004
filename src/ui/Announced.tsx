import { useEffect, useState } from 'react';

/** Nothing is said until a choice has rested so long, in milliseconds: going through a list says where one ends. */
const RESTED = 400;

/** Says to those who do not see the screen what has changed on it; not what it begins with. */
export function Announced({ words }: { words: string }) {
  const [first] = useState(words);
  const [said, setSaid] = useState('');
  useEffect(() => {
    if (words === first && said === '') return undefined;
    const timer = setTimeout(() => setSaid(words), RESTED);
    return () => clearTimeout(timer);
  }, [words, first, said]);
  return (
    <p role="status" aria-live="polite" className="sr-only">
      {said}
    </p>
  );
}
