import { createRoot } from 'react-dom/client';
import { App } from './App.tsx';

createRoot(document.getElementById('app')!).render(<App />);
