import { unzip, type Unzipped } from 'fflate';
import { MANIFEST_FORMAT } from '../../../core/exchange/manifest-format.ts';
import { request } from '../../api/client.ts';
import { renew } from '../../api/queries.ts';

/** Files larger than this are not looked into before they are sent. */
const LARGEST = 256 * 1024 * 1024;

/** Whether a file is a pack of ours: a ZIP with a manifest that says so, at its beginning or in its one folder. */
export async function isPack(file: File): Promise<boolean> {
  if (!/\.zip$/i.test(file.name) || file.size > LARGEST) return false;
  const bytes = new Uint8Array(await file.arrayBuffer());
  const manifests = await new Promise<Unzipped>((resolve) => {
    const filter = ({ name }: { name: string }) => /^([^/]+\/)?manifest\.json$/.test(name);
    // What is no ZIP is told where it is taken in.
    unzip(bytes, { filter }, (error, files) => resolve(error ? {} : files));
  });
  return Object.values(manifests).some((said) => new TextDecoder().decode(said).includes(MANIFEST_FORMAT));
}

/** Lays a pack down where it waits for what is done with it; returns its address. */
export async function layDown(file: File): Promise<string> {
  const body = new FormData();
  body.set('file', file);
  const { id } = await request<{ id: string }>('/api/merge', { method: 'POST', body });
  await renew('packs-in');
  return `/handoff/came-back/${id}`;
}
