"""Rows of a database that was made ready once, put back in a hundredth of the time.

An installation is made by the service's own actions, and every process of the tests does that once;
what they wrote is then copied into the transactions of the tests that follow. Numbers from
sequences stay free, since a sequence only ever goes on.
"""

from dataclasses import dataclass, field

from django.db import connection, transaction

from veridox.service.trail.models import Head

BY_TRIGGER = frozenset({"procrastinate_events"})
"""What the database writes itself when other rows are."""


def _tables() -> list[str]:
    with connection.cursor() as cursor:
        cursor.execute("select tablename from pg_tables where schemaname = 'public'")
        return sorted(name for (name,) in cursor.fetchall() if name not in BY_TRIGGER)


def _database() -> tuple[str, ...]:
    """Which database this is: two of one process may bear one name."""
    with connection.cursor() as cursor:
        cursor.execute("select oid::text, current_setting('port'), pg_postmaster_start_time()::text"
                       " from pg_database where datname = current_database()")  # fmt: skip
        return tuple(cursor.fetchone())


def _rows(table: str) -> list[bytes]:
    with connection.cursor() as cursor, cursor.copy(f'copy "{table}" to stdout') as copy:
        return b"".join(copy).splitlines(keepends=True)


@dataclass
class Snapshot:
    """What came into an empty installation.

    Attributes:
        added: rows that are new, by table, as `copy` writes them.
        changed: tables whose rows changed; they are emptied first.
        ahead: sequences with the number that they have to be beyond.
        known: databases whose sequences are.
    """

    added: dict[str, bytes] = field(default_factory=dict)
    changed: list[str] = field(default_factory=list)
    before: dict[str, list[bytes]] = field(default_factory=dict)
    ahead: dict[str, int] = field(default_factory=dict)
    known: set[tuple[str, ...]] = field(default_factory=set)

    @classmethod
    def begun(cls) -> "Snapshot":
        """Remember what is there already."""
        return cls(before={name: _rows(name) for name in _tables()})

    def ended(self) -> None:
        """Keep what came since."""
        for name, old in self.before.items():
            new = _rows(name)
            if gone := set(old) - set(new):
                assert name == Head._meta.db_table, (name, gone)
                self.changed.append(name)
            rows = new if gone else [row for row in new if row not in set(old)]
            if rows:
                self.added[name] = b"".join(rows)
        self.before.clear()
        with connection.cursor() as cursor:
            for name in self.added:
                cursor.execute("select pg_get_serial_sequence(%s, column_name) from"
                               " information_schema.columns where table_name = %s",
                               [name, name])  # fmt: skip
                for (sequence,) in cursor.fetchall():
                    if sequence is not None:
                        cursor.execute(f"select last_value from {sequence}")
                        self.ahead[sequence] = cursor.fetchone()[0]
        self.known.add(_database())

    def put_back(self) -> None:
        """Put all that came into the database of this test."""
        with transaction.atomic(), connection.cursor() as cursor:
            for name in self.changed:
                cursor.execute(f'delete from "{name}"')
            for name, rows in self.added.items():
                with cursor.copy(f'copy "{name}" from stdin') as copy:
                    copy.write(rows)
            if _database() not in self.known:  # made anew within one process
                for sequence, number in self.ahead.items():
                    cursor.execute("select setval(%s, %s)", [sequence, number])
                self.known.add(_database())


def untouched() -> bool:
    """Whether nothing has happened in this database yet."""
    return Head.objects.filter(number=0).exists() or not Head.objects.exists()
