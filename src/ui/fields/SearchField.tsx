import { useEffect, useState, type Ref } from 'react';

/** Search as one types: what is searched follows a moment after the last letter. */
export function SearchField({
  ref,
  label,
  placeholder,
  value,
  onChange,
}: {
  ref?: Ref<HTMLInputElement>;
  label: string;
  placeholder: string;
  value: string;
  onChange: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  useEffect(() => {
    if (text === value) return;
    const timer = setTimeout(() => onChange(text), 180);
    return () => clearTimeout(timer);
  }, [text, value, onChange]);
  return (
    <input
      ref={ref}
      type="search"
      aria-label={label}
      placeholder={placeholder}
      className="field h-9 min-w-0 flex-1"
      value={text}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Escape' || event.key === 'Enter' || event.key === 'ArrowDown')
          event.currentTarget.blur();
      }}
    />
  );
}
