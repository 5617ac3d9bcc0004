import { X } from 'lucide-react';
import { useState } from 'react';

/** Tags as chips; a new one is typed and kept with Enter or a comma. */
export function TagField({
  tags,
  onChange,
}: {
  tags: readonly string[];
  onChange: (tags: string[]) => void;
}) {
  const [text, setText] = useState('');
  const add = () => {
    const names = text
      .split(',')
      .map((name) => name.trim().toLowerCase())
      .filter((name) => name && !tags.includes(name));
    setText('');
    if (names.length > 0) onChange([...tags, ...names]);
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      {tags.map((tag) => (
        <span
          key={tag}
          className="inline-flex h-6 items-center rounded-[3px] border border-rule bg-card pl-2 text-sm"
        >
          {tag}
          <button
            type="button"
            aria-label={`Remove tag ${tag}`}
            className="flex size-6 items-center justify-center text-muted hover:text-ink"
            onClick={() => onChange(tags.filter((other) => other !== tag))}
          >
            <X size={12} />
          </button>
        </span>
      ))}
      <input
        aria-label="Add tag"
        placeholder="add tag"
        className="h-6 w-22 border-b border-rule bg-transparent text-sm"
        maxLength={60}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' || event.key === ',') {
            event.preventDefault();
            add();
          }
          if (event.key === 'Backspace' && text === '' && tags.length > 0) onChange(tags.slice(0, -1));
        }}
        onBlur={add}
      />
    </div>
  );
}
