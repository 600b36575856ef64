#!/usr/bin/env bash
# Sets Voltaje up on a Debian machine, from a checkout in /srv/voltaje, as root. May be run again: what
# is there stays. Nothing is opened to the outside before nginx has its certificate.
set -Eeuo pipefail
trap 'echo "stopped at line $LINENO: $BASH_COMMAND" >&2' ERR
home=/srv/voltaje
cd "$home"

apt-get update
apt-get install -y --no-install-recommends python3 python3-venv postgresql nginx gpg openssl
id voltaje >/dev/null 2>&1 || useradd --system --home-dir "$home" --shell /usr/sbin/nologin voltaje
install -d -o voltaje -g voltaje -m 755 "$home/static"
install -d -o voltaje -g voltaje -m 700 /var/backups/voltaje

[ -x .venv/bin/python ] || python3 -m venv .venv
.venv/bin/pip install --quiet --require-hashes -r requirements/runtime.txt

if [ ! -s /etc/voltaje.env ]; then
  password=$(openssl rand -hex 24)
  sudo=(runuser -u postgres --)
  "${sudo[@]}" psql -qc "create role voltaje login createdb password '$password'"
  "${sudo[@]}" createdb --owner=voltaje voltaje
  sed -e "s|^VOLTAJE_SECRET_KEY=.*|VOLTAJE_SECRET_KEY=$(openssl rand -base64 48)|" \
      -e "s|voltaje:password@|voltaje:$password@|" \
      -e "s|^#VOLTAJE_BACKUP_KEY_FILE|VOLTAJE_BACKUP_KEY_FILE|" deploy/voltaje.env >/etc/voltaje.env
  (umask 027; openssl rand -base64 48 >/etc/voltaje.backup-key)
  chgrp voltaje /etc/voltaje.env /etc/voltaje.backup-key
  chmod 640 /etc/voltaje.env /etc/voltaje.backup-key
  echo "Put the host name into /etc/voltaje.env, and keep /etc/voltaje.backup-key elsewhere, too."
fi

install -m 644 deploy/systemd/*.service deploy/systemd/*.timer /etc/systemd/system/
install -m 644 deploy/voltaje-proxy.conf /etc/nginx/
[ -e /etc/nginx/sites-available/voltaje ] || install -m 644 deploy/nginx.conf /etc/nginx/sites-available/voltaje
systemctl daemon-reload

set -a; . /etc/voltaje.env; set +a
runuser -u voltaje --preserve-environment -- .venv/bin/python -m django set_up
systemctl enable --now voltaje-web voltaje-worker@1 voltaje-state voltaje-backup.timer voltaje-clear.timer
runuser -u voltaje --preserve-environment -- .venv/bin/python -m django doctor || true
echo "Then: a certificate, the names in /etc/nginx/sites-available/voltaje, a link to it in sites-enabled."
