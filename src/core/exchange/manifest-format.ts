/** What a manifest says that it is, and its version; docs/formats/manifest.md describes it. */
export const MANIFEST_FORMAT = 'hollow-basket-hand-off';
export const MANIFEST_VERSION = 2;
