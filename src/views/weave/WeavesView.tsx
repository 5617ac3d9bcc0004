import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { object, string } from 'yup';
import { keyName } from '../../core/music/key.ts';
import { keyOfProject } from '../../core/reuse/in-project.ts';
import { plural } from '../../core/words.ts';
import { formOrWhy } from '../../core/weave/sections-of.ts';
import { ENDING_BARS, type Weave } from '../../core/weave/weave.ts';
import { label } from '../../requests/fields.ts';
import type { WeaveDetail, WeaveItem } from '../../server/library/weaves.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { CheckedForm, FormProblem, SubmitButton, useCheckedForm } from '../../ui/form/checked-form.tsx';
import { FormText } from '../../ui/form/form-fields.tsx';
import { SearchField } from '../../ui/fields/SearchField.tsx';
import { request, sendJson } from '../api/client.ts';
import { renew, useTakeList, type Wire } from '../api/queries.ts';
import { SetAsideButton } from '../shared/editing/SetAsideButton.tsx';
import { useLayOut } from '../shared/takes/lay-out.ts';
import { useCurrentProject } from '../shared/project.ts';

/** The weaves of the library, and a new one begun by its form. */
export default function WeavesView() {
  const { data, error, isPending } = useQuery({
    queryKey: ['weaves'],
    queryFn: async () => (await request<{ weaves: Wire<WeaveItem>[] }>('/api/weaves')).weaves,
  });
  if (isPending) return <Busy what="Looking for weaves" />;
  if (error) return <EmptyState title="The weaves could not be loaded">{error.message}</EmptyState>;
  return (
    <div className="mx-auto w-full max-w-4xl overflow-auto px-5 pt-4 pb-8">
      <h1 className="text-xl">Weaves</h1>
      <p className="mt-1 max-w-xl text-muted">
        An arrangement sheet of phrases: sections across, parts down, one line of chords a section.
      </p>
      <BeginForm />
      <TakeChoice />
      <ul className="mt-5">
        {data.map(({ id, title: name, projectName, sections, parts }) => (
          <li key={id} className="flex items-baseline gap-3 border-t border-rule py-2">
            <Link className="text-base font-bold" to={`/reuse/weave/${id}`}>
              {name}
            </Link>
            <span className="min-w-0 flex-1 truncate text-sm text-muted">
              {sections.join('  ')}, {plural(parts, 'part')}
              {projectName ? `, for ${projectName}` : ''}
            </span>
            <SetAsideButton kind="weave" id={id} name={name} />
          </li>
        ))}
      </ul>
    </div>
  );
}

const beginSchema = (beats: number) =>
  object({
    /** The project's name where it is empty. */
    title: label().defined(),
    form: string()
      .required('A weave is begun by its sections')
      .test('form', 'These sections cannot be read', (typed, context) => {
        const read = formOrWhy(typed, beats);
        return typeof read === 'string' ? context.createError({ message: read }) : true;
      }),
  });

/** A new weave by its sections: names as they follow, or a chart. */
function BeginForm() {
  const navigate = useNavigate();
  const project = useCurrentProject();
  const key = project && keyOfProject(project);
  const meter = { numerator: project?.meterNumerator ?? 4, denominator: project?.meterDenominator ?? 4 };
  const form = useCheckedForm(
    useMemo(() => beginSchema(meter.numerator), [meter.numerator]),
    { title: '', form: 'A A B A' },
  );
  const begin = async (said: { title: string; form: string }) => {
    const typed = formOrWhy(said.form, meter.numerator);
    if (typeof typed === 'string') throw new Error(typed);
    const weave: Weave = {
      title: said.title.trim() || (project ? project.name : 'Weave'),
      bpm: project?.bpm ?? 100,
      meter,
      key: key ? keyName(key) : '',
      sections: typed.sections,
      ...{ parts: [], cells: [], ending: 'none', endingBars: ENDING_BARS, refused: [] },
    };
    const made = { weave, projectId: project?.id ?? null };
    const { id } = await sendJson<WeaveDetail>('POST', '/api/weaves', made);
    await renew('weaves');
    void navigate(`/reuse/weave/${id}`);
  };
  const theirs = project?.chords;
  return (
    <CheckedForm form={form} onSubmit={begin} className="mt-4 flex flex-wrap items-start gap-3">
      <FormText
        name="title"
        label="Title"
        className="w-56"
        maxLength={200}
        placeholder={project?.name ?? 'Weave'}
      />
      <FormText
        name="form"
        label="Sections"
        className="w-64"
        placeholder="A A B A, or verse, refrain"
        title="Names as they follow, or a chart: A: Dm | A7; B: Gm | C; form: A A B A"
      />
      <span className="flex gap-3 pt-5">
        <SubmitButton>Begin a weave</SubmitButton>
        {theirs && (
          <Button onClick={() => form.setValue('form', theirs, { shouldValidate: true })} title={theirs}>
            The chart of {project.name}
          </Button>
        )}
      </span>
      <FormProblem className="w-full text-sm" />
    </CheckedForm>
  );
}

/** So many takes are offered: who looks for another types its name. */
const MOST_TAKES = 6;

/** A sheet laid out as a take was: the newest takes, and those that are looked for. */
function TakeChoice() {
  const [search, setSearch] = useState('');
  const { data } = useTakeList(`limit=${MOST_TAKES}&search=${encodeURIComponent(search)}`);
  const layOut = useLayOut();
  const takes = data?.pages[0]?.takes.slice(0, MOST_TAKES) ?? [];
  return (
    <details className="mt-4">
      <summary className="min-h-6 cursor-pointer">Or laid out as a take was</summary>
      <div className="mt-2 grid max-w-xl gap-2">
        <SearchField label="Find a take" placeholder="Name of a take" value={search} onChange={setSearch} />
        {takes.length === 0 && <p className="text-sm text-muted">No take is called that.</p>}
        <ul>
          {takes.map(({ id, name }) => (
            <li key={id} className="flex items-center gap-2 border-t border-thread py-1">
              <span className="min-w-0 flex-1 truncate">{name}</span>
              <Button
                small
                disabled={layOut.isPending}
                onClick={() => layOut.mutate({ takeId: id, withParts: true })}
              >
                With its parts<span className="sr-only"> of {name}</span>
              </Button>
              <Button
                small
                disabled={layOut.isPending}
                onClick={() => layOut.mutate({ takeId: id, withParts: false })}
              >
                Only its sections<span className="sr-only"> of {name}</span>
              </Button>
            </li>
          ))}
        </ul>
      </div>
    </details>
  );
}
