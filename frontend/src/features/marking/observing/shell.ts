/** The application's own files, kept by a service worker so that observing opens without a server. */
import { ref } from 'vue'
import { registerSW } from 'virtual:pwa-register'

/** Whether the page opens without a server. */
export const opensWithout = ref(false)
/** Another version of the application waits to be used. */
export const newVersion = ref(false)
let update: ((reload: boolean) => Promise<void>) | null = null

export function keepShell(): void {
  if (update || !('serviceWorker' in navigator)) return
  update = registerSW({
    onNeedRefresh: () => (newVersion.value = true),
    onRegisterError: () => (update = null),
  })
  void navigator.serviceWorker.ready.then(() => (opensWithout.value = true))
}

/** Use the new version: the page loads anew. */
export const useNewVersion = () => void update?.(true)
