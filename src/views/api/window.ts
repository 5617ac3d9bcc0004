import { v4 as newId } from 'uuid';

/** What this window is called where several tell each other what they did. (The browser's own way to such an id wants HTTPS.) */
export const WINDOW = newId();
