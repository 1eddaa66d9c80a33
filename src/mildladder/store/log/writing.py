"""Put cases into the log and take them out: the one way in, for guided cases and for files."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import cached_property
from typing import NamedTuple

from sqlalchemy import Connection
from sqlalchemy.orm import Session

from mildladder.core.model import Case
from mildladder.core.tally.counts import CaseCount
from mildladder.core.tally.keys import GUIDED, Counting, Link, counted
from mildladder.core.tally.returns import Visit, visit_of
from mildladder.core.tally.signature import tried_part
from mildladder.store.log.columns import OfLog
from mildladder.store.log.counting import counting_of
from mildladder.store.log.prepared import Prepared, delete_cases, insert_cases, prepare
from mildladder.store.log.recount import relink
from mildladder.store.log.returns import link
from mildladder.store.log.rows import LoggedCase, load_cases, stored_cases
from mildladder.store.log.sql import driver
from mildladder.store.log.stored_keys import StoredKey, stored_keys
from mildladder.store.log.tallies import Changes, Numbers
from mildladder.store.moments import as_stored
from mildladder.store.tables import EditionRow, ReplacedCaseRow

__all__ = ["Logged", "Logging", "log_cases", "unlog_cases"]

_BATCH = 1_000


@dataclass(frozen=True)
class Logging:
    """Where cases come from (guided, import or demo), who logs them, when, the desk's return window in days, and the
    import that brings them, if one does."""

    origin: str
    who: int
    now: datetime
    return_window: int
    brought_by: int | None = None

    @cached_property
    def logged(self) -> str:
        """When, as it is stored."""
        return as_stored(self.now)


@dataclass
class Logged:
    """What became of the cases: how many were new, updated, unchanged; ids of those that are of another origin, and
    stay out; the imports that had brought some of them before."""

    counts: Counter[str] = field(default_factory=Counter)
    of_another_origin: list[str] = field(default_factory=list)
    came_with: set[int] = field(default_factory=set)


def log_cases(
    session: Session, cases: Iterable[Case | Prepared], logging: Logging, numbers: Numbers | None = None
) -> Logged:
    """Log every case, replacing those of the same id and origin, which are kept as they were beside the log.

    numbers: what is known from parts of the same work that were logged before.
    """
    done, known = Logged(), numbers or Numbers()
    batch: dict[str, Prepared] = {}
    for case in cases:
        prepared = case if isinstance(case, Prepared) else prepare(case)
        if prepared.id in batch or len(batch) == _BATCH:
            _log(session, batch, logging, done, known)
            batch = {}
        batch[prepared.id] = prepared
    _log(session, batch, logging, done, known)
    return done


def unlog_cases(session: Session, numbers: Sequence[int], return_window: int) -> None:
    """Take cases out of the log, as if they had never been in it."""
    for start in range(0, len(numbers), _BATCH):
        rows = load_cases(session.connection(), "number", numbers[start : start + _BATCH])
        _change(session, rows, [], None, counting_of(session), timedelta(days=return_window), Numbers())


def _log(session: Session, batch: Mapping[str, Prepared], logging: Logging, done: Logged, known: Numbers) -> None:
    """Log cases of as many ids."""
    if not batch:
        return
    stored = {one.id: one for one in stored_cases(session.connection(), "id", list(batch))}
    is_guided = logging.origin in GUIDED
    other = {name for name, one in stored.items() if (one.of_log("origin") in GUIDED) != is_guided}
    if logging.origin != "guided":
        other |= _guided_now(session, list(batch))
    same = {name for name, one in stored.items() if name not in other and one.is_same(batch[name])}
    updated = [one.read() for name, one in stored.items() if name not in other and name not in same]
    done.came_with |= {number for one in stored.values() if (number := one.of_log("brought_by")) is not None}
    put = [prepared for name, prepared in batch.items() if name not in other and name not in same]
    for row in updated:
        _keep(session, row, logging)
    counting = counting_of(session)
    window = timedelta(days=logging.return_window)
    _change(session, updated, put, logging, counting, window, known)
    done.of_another_origin += sorted(other)
    done.counts += Counter(new=len(put) - len(updated), updated=len(updated), unchanged=len(same))


def _guided_now(session: Session, names: Sequence[str]) -> set[str]:
    """Which of these are ids of cases that are guided here."""
    session.flush()
    query = f"SELECT case_id FROM climbs WHERE case_id IN ({', '.join('?' * len(names))})"
    return {row[0] for row in driver(session.connection()).execute(query, names)}


def _keep(session: Session, row: LoggedCase, logging: Logging) -> None:
    """What a case was before it is replaced, with how it was logged."""
    document = {
        "case": row.case.model_dump(mode="json", exclude_unset=True),
        "origin": row.origin,
        "who": row.who,
        "logged": row.logged.isoformat(),
        "brought_by": row.brought_by,
    }
    session.add(ReplacedCaseRow(id=row.case.case, document=document, at=logging.now, by=logging.brought_by))
    session.flush()


class _New(NamedTuple):
    prepared: Prepared
    number: int
    linked: int | None
    adds: CaseCount
    visit: Visit


def _change(
    session: Session,
    gone: Sequence[LoggedCase],
    put: Sequence[Prepared],
    logging: Logging | None,
    counting: Counting,
    window: timedelta,
    known: Numbers,
) -> None:
    """Take rows out and put cases in, all tallies and links following; a case that is replaced keeps its number."""
    connection = session.connection()
    session.flush()
    changes = Changes()
    numbers = {row.case.case: row.number for row in gone}
    kept = stored_keys(connection, gone)
    for one in kept:
        changes.add(one.stratum, one.signature, one.counted, -1)
    visits = [_visit_gone(one) for one in kept]
    delete_cases(connection, list(numbers.values()))
    session.expire_all()
    news = _numbered(session, put, logging, numbers, counting) if logging else []
    fresh, moved = link(connection, visits, [new.visit for new in news], window)
    relink(session, moved, changes)
    if logging:
        _insert(connection, news, logging, fresh, counting, known, changes)
    changes.apply(connection)


def _insert(
    connection: Connection,
    news: Sequence[_New],
    logging: Logging,
    fresh: Mapping[str, Link],
    counting: Counting,
    known: Numbers,
    changes: Changes,
) -> None:
    links = [fresh[new.visit.id] for new in news]
    made = [
        counted(new.prepared.case, new.adds, logging.origin, new.linked, found, counting)
        for new, found in zip(news, links, strict=True)
    ]
    known.learn(connection, made)
    rows = []
    for new, found, adds in zip(news, links, made, strict=True):
        stratum, signature = known.strata[adds.stratum], known.signatures[adds.signature]
        changes.add(stratum, signature, adds, 1)
        rows.append((new.prepared, _of_log(new, logging, found, stratum, signature)))
    insert_cases(connection, rows)


def _visit_gone(kept: StoredKey) -> Visit:
    return visit_of(kept.case, tried_part(kept.counted.signature))


def _numbered(
    session: Session, put: Sequence[Prepared], logging: Logging, numbers: Mapping[str, int], counting: Counting
) -> list[_New]:
    following = session.connection().exec_driver_sql("SELECT coalesce(max(number), 0) FROM cases").scalar_one()
    following = max(following, *numbers.values(), 0) if numbers else following
    news = []
    for prepared in put:
        number = numbers.get(prepared.id)
        if number is None:
            following += 1
            number = following
        adds = prepared.counts.renamed(counting.aliases)
        visit = visit_of(prepared.case, tried_part(adds.signature))
        news.append(_New(prepared, number, _linked(session, prepared, logging), adds, visit))
    return news


def _linked(session: Session, prepared: Prepared, logging: Logging) -> int | None:
    """The edition of this desk that the case was climbed by: its own word where it was guided here, else only where
    its content is the same."""
    playbook, edition = prepared.claim
    if edition is None or playbook is None or logging.origin in GUIDED:
        return edition
    if prepared.edition_hash is None:
        return None
    there = session.get(EditionRow, (playbook, edition))
    return edition if there is not None and there.content_hash == prepared.edition_hash else None


def _of_log(new: _New, logging: Logging, found: Link, stratum: int, signature: int) -> OfLog:
    prepared = new.prepared
    return OfLog(
        number=new.number,
        site=prepared.case.site,
        rest=prepared.rest,
        origin=logging.origin,
        who=logging.who,
        logged=logging.logged,
        brought_by=logging.brought_by,
        came_back=as_stored(found.came_back) if found.came_back else None,
        linked=new.linked,
        stratum=stratum,
        signature=signature,
        place=prepared.second | new.number,
    )
