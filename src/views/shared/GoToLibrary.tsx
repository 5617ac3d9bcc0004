import { Link } from 'react-router';

/** The way out where nothing is chosen. */
export function GoToLibrary() {
  return (
    <Link className="underline" to="/library">
      Go to the library
    </Link>
  );
}
