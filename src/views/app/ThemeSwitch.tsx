import { Lamp, Sun } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../../ui/Button.tsx';

/** Day or lamp. The first choice is the system's (public/theme.js); a choice made here is kept. */
export function ThemeSwitch() {
  const [theme, setTheme] = useState(document.documentElement.dataset.theme ?? 'day');
  const other = theme === 'day' ? 'lamp' : 'day';
  const change = () => {
    document.documentElement.dataset.theme = other;
    localStorage.setItem('theme', other);
    setTheme(other);
  };
  const Icon = other === 'lamp' ? Lamp : Sun;
  return (
    <Button kind="quiet" onClick={change} title={`Change to the ${other} theme`}>
      <Icon size={15} aria-hidden="true" /> {other === 'lamp' ? 'Lamp' : 'Day'}
    </Button>
  );
}
