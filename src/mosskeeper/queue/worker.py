"""A worker: takes jobs until it is told to stop, and outlives restarts of the database."""

from __future__ import annotations

import asyncio
import contextlib
import logging
import os
import signal
import socket

import cv2
import numpy as np
import psycopg
import psycopg_pool
from procrastinate import exceptions

from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.takes.take import make_take
from mosskeeper.queue.app import queue_app
from mosskeeper.queue.names import HOUSE, QUEUE, READING
from mosskeeper.settings import Settings
from mosskeeper.studio.database import connect, sessions

log = logging.getLogger(__name__)
_GONE = (exceptions.ConnectorException, psycopg.Error, psycopg_pool.PoolTimeout)


def warm_up() -> None:
    """One tiny take, so that compiled kernels are loaded before an artist waits for them."""
    picture = "0" * 64
    cue = Cue(picture=picture, weight=0.5)
    make_take(Recipe(width=256, height=256, steps=4, cues=[cue]), 0, {picture: np.full((64, 64, 3), 120, np.uint8)})


async def work(settings: Settings, concurrency: int = 1) -> None:
    """Runs until SIGTERM or SIGINT; a job in hand is then given back within seconds."""
    cv2.setNumThreads(1)  # one thread a job: more of them only fight on a busy machine
    name = f"{socket.gethostname()}:{os.getpid()}"
    stop = asyncio.Event()
    loop = asyncio.get_running_loop()
    for s in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(s, stop.set)
    await asyncio.to_thread(warm_up)
    engine = connect(settings.database_url)
    # jobs defer others on their session's connection, by an app that is not open: the open one's connections are asynchronous
    deferring = queue_app(settings.database_url)
    context = {"sessions": sessions(engine), "queue": deferring, "worker": name, "stalled_seconds": settings.stalled_seconds}
    while not stop.is_set():
        try:
            async with queue_app(settings.database_url).open_async() as app:
                # three in one process: the house jobs (rescue) must not wait behind a long run, nor behind what is read
                parts = [
                    asyncio.create_task(
                        app.run_worker_async(
                            name=f"{name} {queue}",
                            queues=[queue],
                            concurrency=slots,
                            install_signal_handlers=False,
                            additional_context=context,
                            update_heartbeat_interval=settings.heartbeat_seconds,
                            stalled_worker_timeout=settings.stalled_seconds,
                            shutdown_graceful_timeout=8,
                            fetch_job_polling_interval=2,
                        )
                    )
                    for queue, slots in ((QUEUE, concurrency), (HOUSE, 1), (READING, 1))
                ]
                log.info("worker %s is ready", name)
                asked = asyncio.create_task(stop.wait())
                await asyncio.wait({*parts, asked}, return_when=asyncio.FIRST_COMPLETED)
                for task in (asked, *parts):
                    task.cancel()
                for ended in await asyncio.gather(*parts, return_exceptions=True):
                    if isinstance(ended, _GONE):
                        raise ended
        except _GONE as error:
            log.warning("the database is away (%s): trying again", type(error).__name__)
        if not stop.is_set():
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(stop.wait(), 1)
    engine.dispose()
