import { Lamp, Sun } from 'lucide-react';
import { useThemeVersion } from '../../ui/drawing/use-canvas.ts';
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
    <Button
      kind="quiet"
      className="middling:px-1.5 brief:px-1.5"
      onClick={changeTheme}
      title={`Change to the ${other} theme`}
    >
      <Icon size={15} aria-hidden="true" />{' '}
      <span className="middling:sr-only brief:sr-only">{other === 'lamp' ? 'Lamp' : 'Day'}</span>
    </Button>
  );
}
