"""Getting ready in quiet moments."""

import asyncio
from concurrent.futures import ThreadPoolExecutor

from imbuto.api.idle_work import Idle, IdleMiddleware


def in_a_thread(work):
    """Run to the end in a thread of its own: a browser's tests leave their loop running in this one."""
    with ThreadPoolExecutor(1) as pool:
        return pool.submit(asyncio.run, work).result()


def test_work_is_done_once_it_is_quiet_and_every_request_is_noted():
    idle, done = Idle(), []
    idle.last -= 100
    in_a_thread(idle.then(lambda: done.append(1)))
    assert done == [1]

    async def app(*_):
        done.append(2)

    before = idle.last
    in_a_thread(IdleMiddleware(app, idle)({"type": "http"}, None, None))
    assert done == [1, 2]
    assert idle.last > before + 99


def test_a_request_puts_the_work_off():
    async def both():
        idle, done = Idle(), []
        work = asyncio.create_task(idle.then(lambda: done.append(1), quiet_s=0.05))
        await asyncio.sleep(0.02)
        idle.last += 1000
        await asyncio.sleep(0.1)
        work.cancel()
        return done

    assert in_a_thread(both()) == []
