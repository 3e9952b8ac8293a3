/** Softer than this is hard to understand beside everything else; louder hurts. LUFS. */
const SOFT_LUFS = -30;
const LOUD_LUFS = -10;

/** Texts of this part, marked for Angular's own translation. */
export const watchTexts = {
  watch: $localize`:@@watch.watch:Watch it move`,
  moving: (name: string) => $localize`:@@watch.moving:What comes from ${name}:name:, moving`,
  waits: $localize`:@@watch.waits:Waiting for a keyframe…`,
  listen: $localize`:@@watch.listen:Listen`,
  loudness: (lufs: number | null) => {
    if (lufs === null) return $localize`:@@watch.silent:Nothing to be heard`;
    const figure = lufs.toFixed(0).replace('-', '−');
    if (lufs < SOFT_LUFS) return $localize`:@@watch.soft:Loudness ${figure}:lufs: LUFS: very soft`;
    if (lufs > LOUD_LUFS) return $localize`:@@watch.loud:Loudness ${figure}:lufs: LUFS: very loud`;
    return $localize`:@@watch.loudness:Loudness ${figure}:lufs: LUFS`;
  },
};
