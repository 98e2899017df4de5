export default openRoute(async (event) => {
  await clearUserSession(event)
  return { signedOut: true }
})
