/**
 * Keeps the screen on while a run is under way: by the browser's own lock, or where it has none (a page over plain
 * HTTP) by a muted video of ours that goes round and round.
 *
 * @example useAwake(useTemplateRef('still'), () => running.value) // <video ref="still" … />
 */
import { useEventListener } from '@vueuse/core'
import { onBeforeUnmount, type Ref, ref, watch } from 'vue'

export function useAwake(video: Readonly<Ref<HTMLVideoElement | null>>, wanted: () => boolean): void {
  /** `lock`, `video`, or nothing. */
  const how = ref('')
  let lock: WakeLockSentinel | null = null

  async function stay(): Promise<void> {
    if (!wanted() || document.visibilityState !== 'visible') return
    if ('wakeLock' in navigator) {
      try {
        lock = await navigator.wakeLock.request('screen')
        how.value = 'lock'
        return
      } catch {
        // Refused, on a low battery for instance.
      }
    }
    // A browser may want a press before it plays even this; the next step is one.
    how.value = await (video.value?.play() ?? Promise.reject(new Error())).then(
      () => 'video',
      () => '',
    )
  }
  function rest(): void {
    void lock?.release().catch(() => undefined)
    lock = null
    video.value?.pause()
    how.value = ''
  }

  watch(wanted, (now) => (now ? void stay() : rest()), { immediate: true })
  watch(video, (there) => there && !how.value && void stay())
  // A lock is lost when the page is hidden.
  useEventListener(document, 'visibilitychange', () => void stay())
  useEventListener(document, 'pointerdown', () => !how.value && void stay())
  onBeforeUnmount(rest)
}

let sounds: AudioContext | null = null

/** Ring softly: two low tones, that swell and fade. */
export function ring(): void {
  try {
    sounds ??= new AudioContext()
    const begin = sounds.currentTime
    for (const [n, pitch] of [523, 659].entries()) {
      const tone = sounds.createOscillator()
      const volume = sounds.createGain()
      tone.frequency.value = pitch
      volume.gain.setValueAtTime(0, begin + 0.35 * n)
      volume.gain.linearRampToValueAtTime(0.12, begin + 0.35 * n + 0.08)
      volume.gain.linearRampToValueAtTime(0, begin + 0.35 * n + 0.6)
      tone.connect(volume).connect(sounds.destination)
      tone.start(begin + 0.35 * n)
      tone.stop(begin + 0.35 * n + 0.7)
    }
  } catch {
    // A machine without sound; it is seen as well.
  }
}
