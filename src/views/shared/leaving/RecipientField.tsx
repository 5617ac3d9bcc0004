import { Link } from 'react-router';
import { SelectField } from '../../../ui/fields/SelectField.tsx';
import { useRecipients } from '../../api/queries.ts';
import { closeLeave } from './leaving.ts';

/** For whom something is; what they have at their place is on their card. */
export function RecipientField({
  value,
  onChange,
}: {
  value: string | null;
  onChange: (id: string | null) => void;
}) {
  const { data: recipients = [] } = useRecipients();
  return (
    <div className="grid gap-1">
      <SelectField label="For" value={value ?? ''} onChange={(id) => onChange(id || null)}>
        <option value="">nobody in particular</option>
        {recipients.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </SelectField>
      <Link
        className="text-sm text-muted underline hover:text-ink"
        to={value ? `/handoff/recipients/${value}` : '/handoff/recipients'}
        onClick={closeLeave}
      >
        {value ? 'What they have at their place' : 'Recipients and their cards'}
      </Link>
    </div>
  );
}
