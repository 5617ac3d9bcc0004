import { Lamp, Sun } from 'lucide-react';
import { useThemeVersion } from '../../ui/canvas.ts';
import { Button } from '../../ui/Button.tsx';

function otherTheme(): 'day' | 'lamp' {
  return document.documentElement.dataset.theme === 'lamp' ? 'day' : 'lamp';
}

/** Day or lamp. The first choice is the system's (public/theme.js); a choice made here is kept. */
export function changeTheme(): void {
  const theme = otherTheme();
  document.documentElement.dataset.theme = theme;
  localStorage.setItem('theme', theme);
}

export function ThemeSwitch() {
  useThemeVersion();
  const other = otherTheme();
  const Icon = other === 'lamp' ? Lamp : Sun;
  return (
    <Button kind="quiet" onClick={changeTheme} title={`Change to the ${other} theme`}>
      <Icon size={15} aria-hidden="true" /> {other === 'lamp' ? 'Lamp' : 'Day'}
    </Button>
  );
}
