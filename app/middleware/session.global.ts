/** Sends who is not signed in to the door, and a first visitor of an empty company to its beginning. */
export default defineNuxtRouteMiddleware(async (target) => {
  const session = useSession()
  if (!session.loaded) {
    await session.load()
  }
  if (!session.company) {
    return target.path === '/begin' ? undefined : navigateTo('/begin')
  }
  if (!session.person) {
    return target.path === '/sign-in'
      ? undefined
      : navigateTo({ path: '/sign-in', query: target.fullPath === '/' ? {} : { to: target.fullPath } })
  }
  if (target.path === '/sign-in' || target.path === '/begin') {
    return navigateTo('/')
  }
  await useReferences().load()
})
