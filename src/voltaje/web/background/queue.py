"""The queue, which stands in the database, and its worker. One task of an account runs at a time;
one whose worker was killed is begun again by another."""

from __future__ import annotations

import asyncio
import logging

from asgiref.sync import sync_to_async
from django.conf import settings
from django.db import Error, close_old_connections
from procrastinate import App, JobContext, PsycopgConnector, RetryStrategy
from procrastinate.contrib.django import app
from procrastinate.contrib.django.utils import connector_params
from procrastinate.exceptions import ConnectorException

from voltaje.web.background import running
from voltaje.web.background.models import BackgroundTask

log = logging.getLogger("voltaje.background")
QUEUE = "long"
HEARTBEAT, STALLED = 5.0, 20.0  # no code figures: s
LOOK_AFTER = 10.0  # no code figure: s between two looks after what was left


@app.task(
    name="voltaje.background",
    queue=QUEUE,
    pass_context=True,
    retry=RetryStrategy(max_attempts=10, retry_exceptions={running.EndingError}),
)
def perform(context: JobContext, key: str) -> None:
    """Does a task; see :func:`running.perform`."""
    running.perform(key, context.should_abort)


def put(task: BackgroundTask) -> None:
    """Puts a task into the queue, within the transaction that makes it."""
    perform.configure(lock=f"account {task.account_id}").defer(key=str(task.pk))


async def look_after(served: App) -> None:
    """Begins again what a worker that has died was at, and clears what is over."""
    while True:
        try:
            left = await served.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED)
            for one in left:
                log.warning("a worker has ended at its work; it is begun again")
                await served.job_manager.retry_job(one)
            await sync_to_async(_clear)()
        except (
            ConnectorException,
            Error,
        ):  # a database that is away for a while: looked after later
            log.warning("nothing can be looked after just now", exc_info=True)
        await asyncio.sleep(LOOK_AFTER)


def _clear() -> None:
    close_old_connections()
    running.clear()
    close_old_connections()


async def serve(wait: bool = True) -> None:
    """A worker, until it is asked to end; without ``wait`` until nothing is left to do."""
    # behind a pool nothing of a connection outlives a transaction: it looks every two seconds
    # instead of listening, and prepares no statements
    asked = {
        **connector_params("default"),
        **({"prepare_threshold": None} if settings.POOLED else {}),
    }
    with app.replace_connector(PsycopgConnector(kwargs=asked)) as served:
        async with served.open_async():
            keeping = asyncio.create_task(look_after(served))
            try:
                await served.run_worker_async(
                    queues=[QUEUE],
                    concurrency=1,
                    wait=wait,
                    listen_notify=not settings.POOLED,
                    delete_jobs="always",
                    install_signal_handlers=wait,
                    fetch_job_polling_interval=2.0,
                    update_heartbeat_interval=HEARTBEAT,
                    stalled_worker_timeout=STALLED,
                    shutdown_graceful_timeout=2.0,
                )
            finally:
                keeping.cancel()
