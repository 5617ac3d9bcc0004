/** How liked a phrase is, 1 to 5, or 0 for passed over, in words. */
export function ratingWords(rating: number): string {
  return rating === 0 ? 'passed over' : '★'.repeat(rating);
}
