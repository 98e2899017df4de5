/** Sends who is not signed in to the door, and a first visitor of an empty company to its beginning. */
export default defineNuxtRouteMiddleware(async (to) => {
  const session = useSession()
  if (!session.loaded) {
    await session.load()
  }
  if (!session.company) {
    return to.path === '/begin' ? undefined : navigateTo('/begin')
  }
  if (!session.person) {
    return to.path === '/sign-in'
      ? undefined
      : navigateTo({ path: '/sign-in', query: to.fullPath === '/' ? {} : { to: to.fullPath } })
  }
  if (to.path === '/sign-in' || to.path === '/begin') {
    return navigateTo('/')
  }
  await useReferences().load()
})
