import { deviceIso } from '@/api/clock'
import { onScopeDispose, ref, shallowRef } from 'vue'
import { fileFrom, keepHead, keepPiece, type Kept } from './kept'

export const MOST_SECONDS = 600
const TYPES = ['audio/mp4;codecs=mp4a.40.2', 'audio/mp4', 'audio/webm;codecs=opus', 'audio/webm']

/** Whether this browser lets pages record at all: over plain http most do not. */
export const canRecord = () =>
  typeof MediaRecorder !== 'undefined' && Boolean(navigator.mediaDevices?.getUserMedia)

interface Made {
  kept: Kept
  /** The file, where the browser had no room to keep it. */
  file: File | null
}

/** Recording by the microphone: with the level, a pause, and a limit; kept second by second. */
export function useRecorder(made: (recording: Made) => void) {
  const state = ref<'idle' | 'asking' | 'recording' | 'paused'>('idle')
  const now = shallowRef<Kept | null>(null)
  const seconds = ref(0)
  /** How loud it is, 0 to 1. */
  const level = ref(0)
  /** Why there is no recording, or why it ended. */
  const problem = ref('')
  let recorder: MediaRecorder | null = null
  let close = () => {}

  async function start(of: Omit<Kept, 'type' | 'startedAt' | 'seconds' | 'ended'>) {
    problem.value = ''
    state.value = 'asking'
    let stream: MediaStream
    try {
      stream = await navigator.mediaDevices.getUserMedia({ audio: true })
    } catch (error) {
      state.value = 'idle'
      problem.value =
        error instanceof DOMException && error.name === 'NotFoundError'
          ? 'No microphone was found: plug one in, or attach a recording as a file.'
          : 'The browser does not allow the microphone: allow it in its settings, or attach a recording as a file.'
      return
    }
    const type = TYPES.find((one) => MediaRecorder.isTypeSupported(one)) ?? ''
    recorder = new MediaRecorder(stream, type ? { mimeType: type } : {})
    const kept: Kept = {
      ...of,
      type: (recorder.mimeType || type).split(';')[0]!,
      startedAt: deviceIso(),
      seconds: 0,
      ended: false,
    }
    now.value = kept
    listen(recorder, stream, kept)
    recorder.start(1000)
    state.value = 'recording'
  }

  function listen(by: MediaRecorder, stream: MediaStream, kept: Kept) {
    const pieces: Blob[] = []
    let room = true
    let number = 0
    let keeping: Promise<unknown> = keepHead(kept).catch(() => (room = false))
    by.ondataavailable = ({ data }) => {
      if (!data.size) return
      pieces.push(data)
      const at = number++
      kept.seconds = Math.max(1, Math.round(seconds.value))
      keeping = keeping
        .then(() => keepPiece(kept.key, at, data))
        .then(() => keepHead({ ...kept }))
        .catch(() => {
          room = false
          problem.value =
            'This browser has no room left: the recording is only in this page until it is sent.'
        })
    }
    by.onstop = () => {
      close()
      state.value = 'idle'
      now.value = null
      const whole = { ...kept, seconds: Math.round(seconds.value), ended: true }
      void keeping
        .then(() => keepHead(whole))
        .catch(() => (room = false))
        .then(() => made({ kept: whole, file: room ? null : fileFrom(whole, pieces) }))
    }
    stream.getAudioTracks()[0]!.onended = () => {
      problem.value = 'The microphone is gone: what was recorded until then is kept.'
      stop()
    }
    meter(stream)
  }

  function meter(stream: MediaStream) {
    const context = new AudioContext()
    const analyser = context.createAnalyser()
    const source = context.createMediaStreamSource(stream)
    source.connect(analyser)
    const wave = new Float32Array(analyser.fftSize)
    let last = performance.now()
    seconds.value = 0
    const timer = setInterval(() => {
      const time = performance.now()
      if (state.value === 'recording') seconds.value += (time - last) / 1000
      last = time
      analyser.getFloatTimeDomainData(wave)
      level.value = Math.min(
        1,
        Math.sqrt(wave.reduce((sum, one) => sum + one * one, 0) / wave.length) * 4,
      )
      if (seconds.value >= MOST_SECONDS) {
        problem.value = `It was ended after ${MOST_SECONDS / 60} minutes, the most there is.`
        stop()
      }
    }, 100)
    close = () => {
      clearInterval(timer)
      level.value = 0
      void context.close()
      for (const track of stream.getTracks()) {
        track.onended = null
        track.stop()
      }
      close = () => {}
    }
  }

  function pause() {
    recorder?.pause()
    state.value = 'paused'
  }
  function resume() {
    recorder?.resume()
    state.value = 'recording'
  }
  function stop() {
    if (recorder?.state !== 'inactive') recorder?.stop()
  }
  // Left while it is made, it is kept as far as it came.
  onScopeDispose(stop)

  return { state, now, seconds, level, problem, start, pause, resume, stop }
}
