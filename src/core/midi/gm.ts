/**
 * General MIDI names. Source: MIDI Manufacturers Association, "General MIDI System Level 1", sound set and
 * percussion key map (typed from memory, checked by test against the counts and corner entries of the table).
 */

/** Names of the 128 programs, by program number from 0. */
export const GM_PROGRAMS: readonly string[] = `
Acoustic Grand Piano|Bright Acoustic Piano|Electric Grand Piano|Honky-tonk Piano|Electric Piano 1|Electric Piano 2|Harpsichord|Clavi
Celesta|Glockenspiel|Music Box|Vibraphone|Marimba|Xylophone|Tubular Bells|Dulcimer
Drawbar Organ|Percussive Organ|Rock Organ|Church Organ|Reed Organ|Accordion|Harmonica|Tango Accordion
Acoustic Guitar (nylon)|Acoustic Guitar (steel)|Electric Guitar (jazz)|Electric Guitar (clean)|Electric Guitar (muted)|Overdriven Guitar|Distortion Guitar|Guitar Harmonics
Acoustic Bass|Electric Bass (finger)|Electric Bass (pick)|Fretless Bass|Slap Bass 1|Slap Bass 2|Synth Bass 1|Synth Bass 2
Violin|Viola|Cello|Contrabass|Tremolo Strings|Pizzicato Strings|Orchestral Harp|Timpani
String Ensemble 1|String Ensemble 2|Synth Strings 1|Synth Strings 2|Choir Aahs|Voice Oohs|Synth Voice|Orchestra Hit
Trumpet|Trombone|Tuba|Muted Trumpet|French Horn|Brass Section|Synth Brass 1|Synth Brass 2
Soprano Sax|Alto Sax|Tenor Sax|Baritone Sax|Oboe|English Horn|Bassoon|Clarinet
Piccolo|Flute|Recorder|Pan Flute|Blown Bottle|Shakuhachi|Whistle|Ocarina
Lead 1 (square)|Lead 2 (sawtooth)|Lead 3 (calliope)|Lead 4 (chiff)|Lead 5 (charang)|Lead 6 (voice)|Lead 7 (fifths)|Lead 8 (bass + lead)
Pad 1 (new age)|Pad 2 (warm)|Pad 3 (polysynth)|Pad 4 (choir)|Pad 5 (bowed)|Pad 6 (metallic)|Pad 7 (halo)|Pad 8 (sweep)
FX 1 (rain)|FX 2 (soundtrack)|FX 3 (crystal)|FX 4 (atmosphere)|FX 5 (brightness)|FX 6 (goblins)|FX 7 (echoes)|FX 8 (sci-fi)
Sitar|Banjo|Shamisen|Koto|Kalimba|Bag Pipe|Fiddle|Shanai
Tinkle Bell|Agogo|Steel Drums|Woodblock|Taiko Drum|Melodic Tom|Synth Drum|Reverse Cymbal
Guitar Fret Noise|Breath Noise|Seashore|Bird Tweet|Telephone Ring|Helicopter|Applause|Gunshot`
  .trim()
  .split(/[|\n]/);

/** The sixteen families of eight programs each, in order. */
export const GM_FAMILIES: readonly string[] = [
  'Piano',
  'Chromatic Percussion',
  'Organ',
  'Guitar',
  'Bass',
  'Strings',
  'Ensemble',
  'Brass',
  'Reed',
  'Pipe',
  'Synth Lead',
  'Synth Pad',
  'Synth Effects',
  'Ethnic',
  'Percussive',
  'Sound Effects',
];

/** Channel index (from 0) that General MIDI keeps for percussion: the tenth. */
export const GM_DRUM_CHANNEL = 9;

/** Bass drum 1 and crash cymbal 1 of the percussion map (General MIDI 1). */
export const GM_KICK = 36;
export const GM_CRASH = 49;

/** First and last pitch of the GM percussion key map. */
export const GM_DRUM_RANGE = { low: 35, high: 81 } as const;

const DRUM_NAMES: readonly string[] = `
Acoustic Bass Drum|Bass Drum 1|Side Stick|Acoustic Snare|Hand Clap|Electric Snare|Low Floor Tom|Closed Hi-Hat|High Floor Tom|Pedal Hi-Hat
Low Tom|Open Hi-Hat|Low-Mid Tom|Hi-Mid Tom|Crash Cymbal 1|High Tom|Ride Cymbal 1|Chinese Cymbal|Ride Bell|Tambourine
Splash Cymbal|Cowbell|Crash Cymbal 2|Vibraslap|Ride Cymbal 2|Hi Bongo|Low Bongo|Mute Hi Conga|Open Hi Conga|Low Conga
High Timbale|Low Timbale|High Agogo|Low Agogo|Cabasa|Maracas|Short Whistle|Long Whistle|Short Guiro|Long Guiro
Claves|Hi Wood Block|Low Wood Block|Mute Cuica|Open Cuica|Mute Triangle|Open Triangle`
  .trim()
  .split(/[|\n]/);

/** Name of a program, 0..127. */
export function programName(program: number): string {
  return GM_PROGRAMS[program] ?? `Program ${program + 1}`;
}

/** Name of a pitch on the GM percussion key map; undefined outside 35..81. */
export function drumName(pitch: number): string | undefined {
  return DRUM_NAMES[pitch - GM_DRUM_RANGE.low];
}

/** Pieces of a kit, from the floor up: the lanes in which drums are drawn. */
export const KIT_PIECES = [
  'kick',
  'snare',
  'side stick and clap',
  'toms',
  'closed hat',
  'pedal hat',
  'open hat',
  'ride',
  'crash',
  'percussion',
] as const;

export type KitPiece = (typeof KIT_PIECES)[number];

const PIECE_PITCHES: Record<Exclude<KitPiece, 'percussion'>, readonly number[]> = {
  kick: [35, 36],
  snare: [38, 40],
  'side stick and clap': [37, 39],
  toms: [41, 43, 45, 47, 48, 50],
  'closed hat': [42],
  'pedal hat': [44],
  'open hat': [46],
  ride: [51, 53, 59],
  crash: [49, 52, 55, 57],
};

/** The pitch on which some hits play a piece of the kit; undefined where they do not. */
export function pitchOfPiece(hits: readonly { pitch: number }[], piece: KitPiece): number | undefined {
  return hits.find(({ pitch }) => kitPiece(pitch) === piece)?.pitch;
}

/** The piece of the kit a GM percussion pitch belongs to; anything unlisted is percussion. */
export function kitPiece(pitch: number): KitPiece {
  for (const piece of KIT_PIECES) {
    if (piece !== 'percussion' && PIECE_PITCHES[piece].includes(pitch)) return piece;
  }
  return 'percussion';
}
