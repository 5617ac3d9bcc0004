import { useEffect, useRef } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { renew, useIntakeDetail, type IntakeDetail } from '../api/queries.ts';
import { useIntake } from './intake.ts';

/** What came of the files of an intake: "3 taken in, 1 refused". */
export function intakeWords({ counts, state }: Pick<IntakeDetail, 'counts' | 'state'>): string {
  const { waiting, taken, known, refused } = counts;
  return [
    taken > 0 && `${taken.toLocaleString('en')} taken in`,
    known > 0 && `${known.toLocaleString('en')} already here`,
    refused > 0 && `${refused.toLocaleString('en')} refused`,
    state === 'stopped' && waiting > 0 && `${waiting.toLocaleString('en')} left out`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** Renews what shows takes as more come in. */
export function useRenewedTakes(job: IntakeDetail | undefined): void {
  const come = job && `${job.id} ${job.counts.taken} ${job.state}`;
  useEffect(() => {
    if (come) void renew('takes', 'sources');
  }, [come]);
}

/** Follows the intake that this window has begun, in every view: its takes appear, and its end is told. */
export function useIntakeEnd(): void {
  const jobId = useIntake((intake) => intake.jobId);
  const { data: job } = useIntakeDetail(jobId);
  useRenewedTakes(job);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const told = useRef<string>(undefined);
  useEffect(() => {
    if (!job || job.state === 'running' || told.current === job.id) return;
    told.current = job.id;
    // Capture shows it itself.
    if (pathname === '/capture') return;
    const words = intakeWords(job);
    if (words)
      toast(`Files: ${words}.`, { action: { label: 'See them', onClick: () => void navigate('/capture') } });
  }, [job, pathname, navigate]);
}
