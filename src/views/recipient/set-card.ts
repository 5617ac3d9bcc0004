import type { Card } from '../../core/exchange/card.ts';

/** Changes a card; the label says what is changed, in the window's history. */
export type SetCard = (change: (card: Card) => Card, label: string) => void;
