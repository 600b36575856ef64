"""Two web processes, two workers, one database, as two machines would have them: nginx gives each
request to the next of them. With ``pooled`` PgBouncer stands before the database and changes
connections with every transaction. Both from Debian's packages."""

import os
import shutil
import socket
import subprocess
import sys
import time
from contextlib import ExitStack, contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from urllib.request import urlopen

from django.test.utils import override_settings

from voltaje.web.jobs.management.commands.set_up import collect_static

NGINX = """
daemon off; error_log {here}/nginx.error; pid {here}/nginx.pid; worker_processes 1;
events {{ worker_connections 256; }}
http {{
  access_log off; client_body_temp_path {here}/1; proxy_temp_path {here}/2;
  fastcgi_temp_path {here}/3; uwsgi_temp_path {here}/4; scgi_temp_path {here}/5;
  client_max_body_size 66m;
  upstream voltaje {{ {servers} }}
  server {{
    listen 127.0.0.1:{port};
    location / {{
      proxy_pass http://voltaje;
      proxy_set_header Host $http_host;
      proxy_set_header X-Forwarded-For $remote_addr;
      add_header X-Served-By $upstream_addr always;
    }}
  }}
}}
"""
PGBOUNCER = """
[databases]
{name} = host={host} port={pg_port} dbname={name} user={user} password={password}
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = {port}
auth_type = any
pool_mode = transaction
default_pool_size = 8
max_client_conn = 200
ignore_startup_parameters = extra_float_digits
logfile = {here}/pgbouncer.log
pidfile = {here}/pgbouncer.pid
"""


def free_port():
    """A port that nobody has just now."""
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        return one.getsockname()[1]


@contextmanager
def running(*command, **more):
    """A process that ends with the block."""
    process = subprocess.Popen(command, **more)
    try:
        yield process
    finally:
        process.terminate()
        try:
            process.wait(15)
        except subprocess.TimeoutExpired:
            process.kill()


@contextmanager
def machines(database, pooled=False, web=2, workers=2):
    """The address of nginx before them; ``database`` as Django's settings name it."""
    with TemporaryDirectory(prefix="voltaje-machines-") as made, ExitStack() as stack:
        here = Path(made)
        here.chmod(0o755)
        port, pg_port = free_port(), int(database["PORT"])
        if pooled:
            pg_port = free_port()
            _pool(stack, here, database, pg_port)
        address = "postgres://{USER}:{PASSWORD}@{HOST}:{port}/{NAME}".format(
            **database, port=pg_port
        )
        environment = {
            **os.environ,
            "DJANGO_SETTINGS_MODULE": "browser.machine_settings",
            "PYTHONPATH": os.pathsep.join(path for path in sys.path if path),
            "VOLTAJE_DATABASE_URL": address,
            "VOLTAJE_POOLED": "yes" if pooled else "no",
            "VOLTAJE_DEMO": "yes",
            "VOLTAJE_TRUSTED_PROXIES": "1",
            "VOLTAJE_TRIES_FACTOR": "1000",
            "VOLTAJE_TRUSTED_ORIGINS": f"http://localhost:{port}",
            "VOLTAJE_STATIC_ROOT": str(here / "static"),
            "VOLTAJE_WEATHER": str(here / "weather"),
        }
        os.environ["VOLTAJE_WEATHER"] = environment["VOLTAJE_WEATHER"]
        stack.callback(os.environ.pop, "VOLTAJE_WEATHER")
        with override_settings(STATIC_ROOT=str(here / "static")):
            collect_static()
        ports = [free_port() for _ in range(web)]
        for one in ports:
            stack.enter_context(
                running(
                    sys.executable, "-m", "gunicorn", "voltaje.web.wsgi", "--bind",
                    f"127.0.0.1:{one}", "--workers", "1", "--threads", "4", "--no-control-socket",
                    "--log-level", "warning", env=environment,
                )
            )  # fmt: skip
        for _ in range(workers):
            stack.enter_context(running(sys.executable, "-m", "django", "work", env=environment))
        servers = " ".join(f"server 127.0.0.1:{one};" for one in ports)
        (here / "nginx.conf").write_text(NGINX.format(here=here, servers=servers, port=port))
        nginx = shutil.which("nginx") or "/usr/sbin/nginx"
        stack.enter_context(running(nginx, "-c", str(here / "nginx.conf"), "-p", str(here)))
        for one in (*ports, port):
            _until_it_answers(one)
        yield f"http://localhost:{port}"


def _pool(stack, here, database, port):
    pooler = shutil.which("pgbouncer") or "/usr/sbin/pgbouncer"
    lower = {name.lower(): value for name, value in database.items()}
    config = here / "pgbouncer.ini"
    config.write_text(
        PGBOUNCER.format(**{**lower, "pg_port": lower["port"], "port": port}, here=here)
    )
    as_other = ["setpriv", "--reuid=postgres", "--regid=postgres", "--clear-groups"]
    if os.geteuid() == 0:  # it refuses to be root
        shutil.chown(here, "postgres", "postgres")
    command = [*(as_other if os.geteuid() == 0 else []), pooler, "-q", str(config)]
    stack.enter_context(running(*command, stderr=subprocess.DEVNULL))


def _until_it_answers(port):
    end = time.monotonic() + 60
    while True:
        try:
            with urlopen(f"http://127.0.0.1:{port}/health/", timeout=5):
                return
        except OSError:
            assert time.monotonic() < end, port
            time.sleep(0.2)
