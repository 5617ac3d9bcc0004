import type { House } from '../../core/normalize/house.ts';

/** Changes the house as it is being edited; the label says what was changed, for taking it back. */
export type SetHouse = (change: (house: House) => House, label: string) => void;
