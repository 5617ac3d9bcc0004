import { array, boolean, object, string } from 'yup';
import { PERSON_ROLES } from '../core/people/roles.ts';
import { PASSWORD } from '../core/people/password.ts';
import { id } from './fields.ts';

/** Shapes of what pages send of people, with sentences for what is wrong. */

const personName = () =>
  string()
    .matches(/^[^\u0000-\u001f]*$/, 'A name holds a character that cannot be stored')
    .trim('A name begins and ends with no space')
    .matches(/\S/, 'Somebody needs a name')
    .max(80, 'A name has at most 80 characters')
    .required('Somebody needs a name');

/** Long enough for any password, short enough not to be worked on for long. */
const password = () =>
  string()
    .max(4 * PASSWORD.longest, 'A password is too long')
    .required('A password is needed');

const token = () => string().max(200, 'A link is none').required('A link is none');

export const signInSchema = object({ name: personName(), password: password() });

export const tokenSchema = object({ token: token() });

export const joinSchema = object({ token: token(), name: personName(), password: password() });

export const passwordChangeSchema = object({ old: password(), password: password() });

const basketIds = () => array(id().required()).max(500);

export const personChangeSchema = object({
  role: string().oneOf(PERSON_ROLES).optional(),
  closed: boolean().optional(),
  baskets: basketIds().optional(),
});

export const invitationSchema = object({
  note: string().max(80, 'A name has at most 80 characters').default('').defined(),
  role: string().oneOf(PERSON_ROLES).required('Say what somebody may do'),
  baskets: basketIds().optional(),
  personId: id().optional(),
});

/** A link that an owner makes for somebody: who it is for is said, and of a guest what they see. */
export const newInvitationSchema = object({
  note: string().trim().max(80, 'A name has at most 80 characters').required('Say who it is for'),
  role: string().oneOf(PERSON_ROLES).required(),
  baskets: basketIds()
    .required()
    .when('role', {
      is: 'guest',
      then: (baskets) => baskets.min(1, 'Choose at least one basket'),
    }),
});

const windowId = () => string().uuid('A window is an id').required('A window is an id');

export const hereSchema = object({ window: windowId(), path: string().max(2000).defined() });
