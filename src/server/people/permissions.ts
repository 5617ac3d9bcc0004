import type { PersonRole } from '../../core/people/roles.ts';
import type { DeedKind } from '../db/schema.ts';

/** Somebody who is signed in, and by which session. */
export interface SignedIn {
  id: string;
  name: string;
  role: PersonRole;
  sessionId: string;
}

/** What a request needs, and what is told of it afterwards. */
export interface Rule {
  /** The least that somebody has to be; `nobody` is whoever comes. */
  least: PersonRole | 'nobody';
  /** A guest may do it to the baskets that were chosen for them: the id in the address is one. */
  basket?: true;
  /** What it changes, for the record and for those who are looking at it; left out where nothing is told. */
  about?: DeedKind;
  /** In words that go on after a name. */
  did?: string;
}

type Rules = Partial<Record<'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE', Rule>>;

/** What members do, and what is told of it. */
const did = (about: DeedKind, words: string): Rule => ({ least: 'member', about, did: words });

/** Members do it; it only looks, or is told by what comes of it. */
const quiet: Rule = { least: 'member' };

/** Members see it. */
const seen: Rules = { GET: quiet };

const anybody: Rule = { least: 'nobody' };
const signedIn: Rule = { least: 'guest' };
const ofBasket: Rule = { least: 'guest', basket: true };
const owner = (words: string): Rule => ({ least: 'owner', about: 'person', did: words });

/**
 * Who may do what: each address of the endpoints with each of its methods. What does not stand here is refused (`ruleOf`), and a test holds
 * the list against the files.
 */
export const RULES: Readonly<Record<string, Rules>> = {
  '/api/[...rest]': { GET: signedIn, POST: signedIn, PUT: signedIn, PATCH: signedIn, DELETE: signedIn },
  '/api/me': { GET: anybody, PATCH: { ...signedIn, about: 'person', did: 'changed their password' } },
  '/api/me/sessions': {
    GET: signedIn,
    DELETE: { ...signedIn, about: 'person', did: 'signed out everywhere' },
  },
  '/api/session': { POST: anybody, DELETE: anybody },
  '/api/join': { POST: { ...anybody, about: 'person' }, PUT: anybody },
  '/api/people': { GET: quiet },
  '/api/people/[id]': { PATCH: owner('changed what somebody may do') },
  '/api/invitations': { GET: { least: 'owner' }, POST: owner('made a link that lets somebody in') },
  '/api/invitations/[id]': { DELETE: owner('took a link back') },
  '/api/deeds': { GET: { least: 'owner' } },
  '/api/deeds/[id]': { GET: quiet },
  '/api/events': { GET: signedIn },
  '/api/events/here': { POST: signedIn },
  '/api/shared': { GET: signedIn },

  '/api/banks': { GET: quiet, POST: did('house', 'added sounds') },
  '/api/banks/[id]': { PATCH: did('house', 'changed sounds'), DELETE: did('house', 'removed sounds') },

  '/api/baskets': { GET: quiet, POST: did('basket', 'made it') },
  '/api/baskets/[id]': {
    GET: quiet,
    PATCH: did('basket', 'changed how it leaves'),
    DELETE: did('basket', 'removed it'),
  },
  '/api/baskets/[id]/answer': { POST: { ...ofBasket, about: 'pack', did: 'sent a pack back' } },
  '/api/baskets/[id]/checks': seen,
  '/api/baskets/[id]/heard': { GET: ofBasket },
  '/api/baskets/[id]/items': {
    POST: did('basket', 'put phrases into it'),
    PUT: did('basket', 'changed what is in it'),
  },
  '/api/baskets/[id]/pack': { GET: { ...ofBasket, about: 'basket', did: 'took it as a pack' } },

  '/api/batches': { GET: quiet, POST: did('batch', 'began a batch') },
  '/api/batches/[id]': { GET: quiet, PATCH: did('batch', 'went on with a batch') },
  '/api/batches/[id]/left': { POST: did('batch', 'left phrases of a batch out') },

  '/api/captures': { GET: quiet, POST: did('capture', 'began to record') },
  '/api/captures/[id]/finish': { POST: did('take', 'recorded takes') },
  '/api/captures/[id]/pieces/[piece]': { PUT: quiet },

  '/api/changes': { GET: quiet, POST: did('house', 'kept chord changes') },
  '/api/changes/[id]': { PATCH: did('house', 'changed kept chord changes') },
  '/api/changes/written': { POST: did('house', 'wrote chord changes') },

  '/api/comps': { GET: quiet, POST: did('comp', 'began it') },
  '/api/comps/[id]': {
    GET: quiet,
    PUT: did('comp', 'took other bars'),
    PATCH: did('comp', 'set it aside, or brought it back'),
  },
  '/api/comps/[id]/keep': { POST: did('take', 'made a take of several passes') },

  '/api/demo': { POST: { least: 'owner', about: 'take', did: 'loaded the demo' } },

  '/api/feels': { GET: quiet, PUT: did('house', 'kept a feel') },
  '/api/feels/[id]': { DELETE: did('house', 'removed a feel') },
  '/api/habits': { GET: quiet, POST: did('house', 'changed what is offered by habit') },
  '/api/harmony': seen,
  '/api/house': { GET: quiet, PUT: did('house', 'changed the house standard') },

  '/api/jobs': { GET: quiet, POST: quiet },
  '/api/jobs/[id]': seen,
  '/api/jobs/[id]/close': { POST: did('take', 'took files in') },
  '/api/jobs/[id]/files': { POST: quiet },
  '/api/jobs/[id]/refused': seen,
  '/api/jobs/[id]/stop': { POST: did('job', 'stopped an intake') },

  '/api/makings': { GET: quiet, POST: did('phrase', 'made drafts of takes') },
  '/api/makings/[id]/stop': { POST: quiet },

  '/api/leaving/[kind]/[id]': seen,
  '/api/leaving/file': { POST: quiet },
  '/api/leaving/heard': { POST: quiet },
  '/api/leaving/plan': { POST: quiet },
  '/api/leaving/sheet': { POST: quiet },

  '/api/lineage': seen,
  '/api/made': { POST: did('phrase', 'made phrases') },

  '/api/merge': { GET: quiet, POST: did('pack', 'brought a pack in') },
  '/api/merge/[id]': {
    GET: quiet,
    POST: did('phrase', 'took phrases of a pack in'),
    DELETE: did('pack', 'let a pack go'),
  },
  '/api/merge/[id]/heard': seen,

  '/api/mirror': seen,
  '/api/mirror/[id]/take-in': { POST: did('basket', 'took in what was changed in its folder') },
  '/api/mirror/[id]/tidy': { GET: quiet, POST: did('basket', 'tidied the names in its folder') },

  '/api/phrases': { GET: quiet, POST: did('phrase', 'cut phrases') },
  '/api/phrases/[id]': { GET: quiet, PUT: did('phrase', 'changed it') },
  '/api/phrases/[id]/accompaniments': seen,
  '/api/phrases/[id]/file': seen,
  '/api/phrases/[id]/follow': { POST: did('phrase', 'made it follow its parent') },
  '/api/phrases/[id]/like': seen,
  '/api/phrases/[id]/relatives': seen,
  '/api/phrases/[id]/twins': seen,
  '/api/phrases/changes': { POST: did('phrase', 'changed phrases') },
  '/api/phrases/children': { GET: quiet, POST: did('phrase', 'made phrases of others') },
  '/api/phrases/drafts': seen,
  '/api/phrases/places': { POST: quiet, PUT: did('phrase', 'put it in the place of another') },
  '/api/phrases/facets': seen,
  '/api/phrases/heard': { POST: quiet },
  '/api/phrases/ids': seen,
  '/api/phrases/restored': { POST: did('phrase', 'took a change of phrases back') },
  '/api/phrases/state': { POST: did('phrase', 'kept phrases or set them aside') },

  '/api/presets': { GET: quiet, PUT: did('house', 'kept a preset') },
  '/api/presets/[id]': { DELETE: did('house', 'removed a preset') },
  '/api/projects': { GET: quiet, POST: did('project', 'began a project') },
  '/api/projects/[id]': { PUT: did('project', 'changed a project') },
  '/api/recipients': { GET: quiet, POST: did('recipient', 'added a recipient') },
  '/api/recipients/[id]': {
    GET: quiet,
    PATCH: did('recipient', "changed a recipient's card"),
    DELETE: did('recipient', 'removed a recipient'),
  },
  '/api/searches': { GET: quiet, POST: did('house', 'kept a search') },
  '/api/searches/[id]': { DELETE: did('house', 'let a kept search go') },
  '/api/sources': seen,
  '/api/sources/[id]': { PATCH: did('source', 'changed what is usual for a source') },
  '/api/sources/defaults': seen,
  '/api/status': seen,
  '/api/sweeps': { GET: quiet, POST: did('sweep', 'began it') },
  '/api/sweeps/[id]': { GET: quiet, PATCH: did('sweep', 'stopped it, or went on with it') },
  '/api/sweeps/[id]/keep': { POST: did('phrase', 'kept phrases of a sweep') },
  '/api/sweeps/[id]/runs/[position]': { PUT: quiet },
  '/api/sweeps/[id]/same': { POST: did('take', 'set takes aside that were there twice') },

  '/api/tags': { GET: quiet, PATCH: did('tag', 'changed tags') },

  '/api/takes': {
    GET: quiet,
    POST: did('take', 'took it in'),
    PATCH: did('take', 'changed what is known of takes'),
  },
  '/api/takes/[id]': seen,
  '/api/takes/[id]/base': seen,
  '/api/takes/[id]/came-back': { GET: quiet, POST: did('take', 'kept a part that came back') },
  '/api/takes/[id]/file': seen,
  '/api/takes/[id]/habits': seen,
  '/api/takes/[id]/history': { POST: did('take', 'went to another place of its history') },
  '/api/takes/[id]/input': seen,
  '/api/takes/[id]/keep': { POST: did('take', 'kept parts of it as phrases') },
  '/api/takes/[id]/fill': { POST: did('take', 'repeated it') },
  '/api/takes/[id]/make': { POST: did('take', 'made phrases of it') },
  '/api/takes/[id]/moves': { POST: did('take', 'changed it') },
  '/api/takes/[id]/parts': seen,
  '/api/takes/[id]/parts/[part]': seen,
  '/api/takes/[id]/redo': { POST: did('take', 'did a change again') },
  // Kept by itself, by whoever opens it first.
  '/api/takes/[id]/told': { GET: quiet, POST: quiet },
  '/api/takes/[id]/undo': { POST: did('take', 'took a change back') },
  '/api/takes/[id]/weave': { POST: did('weave', 'made it of a take') },
  '/api/takes/known': { POST: quiet },
  '/api/takes/join': { POST: did('take', 'joined takes') },
  '/api/twice': { GET: quiet, POST: quiet, DELETE: quiet },
  '/api/twice/apart': { POST: did('phrase', 'said that phrases are not alike') },
  '/api/twice/variants': { POST: did('phrase', 'said which phrases are variants of one') },

  '/api/weaves': { GET: quiet, POST: did('weave', 'made it') },
  '/api/weaves/[id]': {
    GET: quiet,
    PUT: did('weave', 'changed it'),
    PATCH: did('weave', 'set it aside or brought it back'),
  },
};

const RANKS = ['nobody', 'guest', 'member', 'owner'] as const;

/** What a request to an address (as its file is called) needs; null where nobody may. */
export function ruleOf(method: string, pattern: string): Rule | null {
  const asked = method === 'HEAD' ? 'GET' : method;
  const rules: Readonly<Record<string, Rule>> = RULES[pattern] ?? {};
  return Object.hasOwn(rules, asked) ? rules[asked]! : null;
}

/** Whether somebody is enough for a rule; which baskets a guest sees is asked elsewhere. */
export function isEnough(role: PersonRole | null, { least }: Rule): boolean {
  return RANKS.indexOf(role ?? 'nobody') >= RANKS.indexOf(least);
}
