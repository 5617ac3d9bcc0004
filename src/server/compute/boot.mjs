// Lets threads run TypeScript where there is no build.
import { register } from 'tsx/esm/api';

register();
export default (await import('./worker.ts')).default;
