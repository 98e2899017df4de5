import fs from 'node:fs'
import { userInfo } from 'node:os'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { orStop, say, Stop } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url)).replace(/\/$/, '')
const NAME = 'tsumiki.service'

await orStop(main())

/**
 * `npm run service`: writes a unit for systemd, by which Tsumiki starts with the machine, as the user who runs this;
 * and says how it is put in place.
 */
async function main() {
  const file = path.join(root, NAME)
  if (/[\s%"'\\]/.test(root)) {
    throw new Stop(`The path ${root} holds a space or a sign that systemd reads otherwise. Move Tsumiki first.`)
  }
  fs.writeFileSync(file, unit(userInfo().username))
  say(`${file} is written. Put it in place once:`)
  process.stdout.write(`
  sudo cp ${NAME} /etc/systemd/system/
  sudo systemctl daemon-reload
  sudo systemctl enable --now tsumiki

  systemctl status tsumiki       how it is
  journalctl -u tsumiki -f       what it says

`)
}

/** What it says where it starts with npm start goes to the journal; settings stand in tsumiki.env. */
function unit(user) {
  return `[Unit]
Description=Tsumiki
After=network-online.target
Wants=network-online.target

[Service]
User=${user}
WorkingDirectory=${root}
Environment=NODE_ENV=production
ExecStart=${process.execPath} ${path.join(root, 'scripts/start.mjs')}
Restart=always
RestartSec=5
# It stops what it has started by itself; what is left after a minute is ended.
KillMode=mixed
TimeoutStopSec=60
PrivateTmp=true
ProtectSystem=full

[Install]
WantedBy=multi-user.target
`
}
