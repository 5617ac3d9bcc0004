import { boolean, number, object, string, type ObjectSchema } from 'yup';
import { KEY_CHOICES, type KeyChoice } from '../reuse/in-project.ts';

/** Folders by meter and role, by what the bars are for, by the headings of the basket, or all files side by side. */
export const PACK_LAYOUTS = ['folders', 'sections', 'headings', 'flat'] as const;
export type PackLayout = (typeof PACK_LAYOUTS)[number];

/** One file of everything, a file each, or both. */
export const OUT_AS = ['one', 'each', 'both'] as const;
export type OutAs = (typeof OUT_AS)[number];

/** A kit on one track, on a track a piece, or in a file a piece. */
export const KITS_OUT = ['whole', 'tracks', 'files'] as const;
export type KitOut = (typeof KITS_OUT)[number];

/** Which controllers, pressures and bends travel. */
export const CONTROLLERS_OUT = ['all', 'pedal and bend', 'none'] as const;
export type ControllersOut = (typeof CONTROLLERS_OUT)[number];

/** What suits a sound is left out, is the phrase's own, or the recipient's where their card says something. */
export const FITTINGS_OUT = ['plain', 'own', 'card'] as const;
export type FittingOut = (typeof FITTINGS_OUT)[number];

/** Ticks a quarter note that programs read; null is what each phrase's own recipe says. */
export const PPQS_OUT = [96, 192, 240, 384, 480, 960, 1920] as const;

/** How something leaves, whatever it is: a take, a phrase, a sheaf, a basket, a weave. */
export interface OutOptions {
  as: OutAs;
  kit: KitOut;
  key: KeyChoice;
  tempo: 'curve' | 'one';
  format: 0 | 1;
  ppq: number | null;
  /** Sections, and chords where they begin, as texts in the files. */
  markers: boolean;
  /** Empty bars before bar one. */
  countIn: number;
  controllers: ControllersOut;
  sounds: 'suggested' | 'plain';
  fitting: FittingOut;
}

/** How things leave where nobody has chosen. */
export const OUT: OutOptions = {
  as: 'both',
  kit: 'whole',
  key: 'captured',
  tempo: 'curve',
  format: 1,
  ppq: null,
  markers: true,
  countIn: 0,
  controllers: 'all',
  sounds: 'suggested',
  fitting: 'own',
};

/** A resolution that programs read; null is what each phrase's own recipe says. */
export const ppqSchema = () =>
  number()
    .nullable()
    .defined()
    .test(
      'resolution',
      `A resolution is one of ${PPQS_OUT.join(', ')} ticks a quarter note`,
      (ppq) => ppq === null || PPQS_OUT.some((one) => one === ppq),
    );

/** What a page may say of how something leaves. */
export const outOptionsSchema = object({
  as: string().oneOf(OUT_AS).required(),
  kit: string().oneOf(KITS_OUT).required(),
  key: string().oneOf(KEY_CHOICES).required(),
  tempo: string()
    .oneOf(['curve', 'one'] as const)
    .required(),
  format: number()
    .oneOf([0, 1] as const)
    .required(),
  ppq: ppqSchema(),
  markers: boolean().required(),
  countIn: number().integer().min(0).max(2, 'A count-in has two bars at the most').required(),
  controllers: string().oneOf(CONTROLLERS_OUT).required(),
  sounds: string()
    .oneOf(['suggested', 'plain'] as const)
    .required(),
  fitting: string().oneOf(FITTINGS_OUT).required(),
}).noUnknown() as unknown as ObjectSchema<OutOptions>;
