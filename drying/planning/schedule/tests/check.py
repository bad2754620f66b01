"""Is an answer allowed? Written against the meaning of a schedule: it shares nothing with what made the answer."""

from __future__ import annotations

EPS = 1e-6


def in_home(home, time_h):
    return any(begin - EPS <= time_h <= end + EPS for begin, end in home)


def joined(spans):
    found = []
    for begin, end in sorted(spans):
        if found and begin <= found[-1][1] + EPS:
            found[-1][1] = max(found[-1][1], end)
        else:
            found.append([begin, end])
    return found


def taken_out(home, end_h):
    """The first moment at home at or after an end."""
    if in_home(home, end_h):
        return end_h
    later = [begin for begin, _ in home if begin >= end_h]
    return min(later) if later else None


def faults(problem, answer):
    """What is wrong with an answer (both as the command line takes and prints them); none where it is allowed."""
    found, jobs = [], {job["id"]: job for job in problem["jobs"]}
    home, starts, visits = joined(problem["at_home"]), answer["starts"], answer["visits_h"]
    if sorted(s["job"] for s in starts) != sorted(jobs):
        found.append("each job must start once")
        return found
    for start in starts:
        option = {"dryer": start["dryer"], "temp_c": start["temp_c"], "hours": start["end_h"] - start["start_h"]}
        if not any(
            o["dryer"] == option["dryer"]
            and abs(o["temp_c"] - option["temp_c"]) < EPS
            and abs(o["hours"] - option["hours"]) < EPS
            for o in jobs[start["job"]]["options"]
        ):
            found.append(f"{start['job']}: no such option")
        if start["start_h"] < -EPS or start["end_h"] > problem["horizon_h"] + EPS:
            found.append(f"{start['job']}: outside the horizon")
        if not any(b - EPS <= start["start_h"] and start["start_h"] + problem["watch_h"] <= e + EPS for b, e in home):
            found.append(f"{start['job']}: its first hours are not watched")
        out = taken_out(home, start["end_h"])
        found += [
            f"{start['job']}: nobody visits at {needed}"
            for needed in (start["start_h"], out)
            if needed is None or not any(abs(v - needed) < EPS for v in visits)
        ]
    found += [f"visit at {v}: nobody at home" for v in visits if not in_home(home, v)]
    found += [fault for dryer in problem["dryers"] for fault in _of_dryer(problem, dryer, starts, visits, home)]
    found += _of_sums(problem, answer, jobs)
    return found


def _of_dryer(problem, dryer, starts, visits, home):
    mine = [s for s in starts if s["dryer"] == dryer["id"]]
    for n, one in enumerate(mine):
        for other in mine[n + 1 :]:
            overlap = min(one["end_h"], other["end_h"]) - max(one["start_h"], other["start_h"])
            if overlap > EPS and abs(one["temp_c"] - other["temp_c"]) > EPS:
                yield f"{dryer['id']}: two temperatures at once"
    held = [(s["start_h"], taken_out(home, s["end_h"]) or 1e9) for s in mine]
    for moment, _ in held:
        if sum(b <= moment + EPS and moment < e - EPS for b, e in held) > dryer["slots"]:
            yield f"{dryer['id']}: too many at {moment}"
    if dryer["timer_max_h"] is not None:
        yield from _of_timer(dryer, mine, visits)


def _of_timer(dryer, mine, visits):
    for begin, end in joined([(s["start_h"], s["end_h"]) for s in mine]):
        at = begin
        for visit in [*(v for v in sorted(visits) if begin + EPS < v < end - EPS), end]:
            if visit - at > dryer["timer_max_h"] + EPS:
                yield f"{dryer['id']}: the timer runs out after {at}"
            at = visit


def _of_sums(problem, answer, jobs):
    late = {}
    for start in answer["starts"]:
        ready = jobs[start["job"]]["ready_by_h"]
        if ready is not None and start["end_h"] - ready > EPS:
            late[start["job"]] = start["end_h"] - ready
    if set(late) != set(answer["late"]) or any(abs(late[j] - answer["late"][j]) > EPS for j in late):
        yield f"late is {answer['late']}, must be {late}"
    cost = 0.0
    for dryer in problem["dryers"]:
        mine = [(s["start_h"], s["end_h"]) for s in answer["starts"] if s["dryer"] == dryer["id"]]
        for begin, end in joined(mine):
            for since, until, price in problem["tariff"]:
                cost += dryer["power_w"] / 1000 * max(min(end, until) - max(begin, since), 0) * price
    if abs(cost - answer["cost"]) > 1e-4:
        yield f"cost is {answer['cost']}, must be {cost}"


def drawn(rng, jobs=6, dryers=2, days=3):
    """A problem out of numbers: people at home mornings and evenings, and all of some days."""
    horizon = 24.0 * days
    home = []
    for day in range(days + 1):
        base = 24.0 * day
        home += (
            [[base + 6.5, base + 23.0]]
            if rng.random() < 0.3
            else [[base + 6.5, base + 8.0], [base + 17.5, base + 23.0]]
        )
    boxes = [
        {
            "id": f"box {n}",
            "slots": int(rng.integers(1, 4)),
            "timer_max_h": [None, 8.0, 12.0, 24.0][int(rng.integers(4))],
            "power_w": float(rng.integers(80, 400)),
        }
        for n in range(dryers)
    ]
    wanted = []
    for n in range(jobs):
        options = []
        for box in boxes:
            temps = rng.choice([45.0, 55.0, 65.0, 72.0], size=int(rng.integers(1, 3)), replace=False)
            options += [
                {"dryer": box["id"], "temp_c": float(temp), "hours": 0.5 * int(rng.integers(6, 37))} for temp in temps
            ]
        ready = None if rng.random() < 0.2 else float(rng.integers(10, int(horizon)))
        wanted.append({"id": f"spool {n}", "ready_by_h": ready, "options": options})
    tariff = [[24.0 * d + a, 24.0 * d + b, p] for d in range(days) for a, b, p in ((0, 5.5, 0.12), (5.5, 24, 0.28))]
    watch = float(rng.choice([0.0, 0.5, 1.0]))
    return {"horizon_h": horizon, "at_home": home, "tariff": tariff, "watch_h": watch, "dryers": boxes, "jobs": wanted}
