import { keyName, MODES } from '../../core/music/key.ts';

/** All keys as options of a select, by their names; `none` is what no key is called. */
export function KeyOptions({ none }: { none: string }) {
  return (
    <>
      <option value="">{none}</option>
      {MODES.flatMap((mode) =>
        Array.from({ length: 12 }, (_, tonic) => {
          const name = keyName({ tonic, mode });
          return (
            <option key={name} value={name}>
              {name}
            </option>
          );
        }),
      )}
    </>
  );
}
