/**
 * The first transaction that may still change something unseen, in SQL: what has a smaller number has ended (PostgreSQL documentation,
 * "Transaction ID and Snapshot Information Functions").
 */
export const FIRST_OPEN = 'pg_snapshot_xmin(pg_current_snapshot())::text';
