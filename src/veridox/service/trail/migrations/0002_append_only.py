"""The head row, and guards: entries of the trail are only ever added."""

from django.db import migrations

GUARD = """
create function trail_refuse() returns trigger language plpgsql as $$
begin
  raise exception 'entries of the trail are never changed or deleted';
end $$;
create trigger trail_append_only before update or delete on trail_entry
  for each statement execute function trail_refuse();
create trigger trail_never_emptied before truncate on trail_entry
  for each statement execute function trail_refuse();
insert into trail_head (id, number, seal) values (1, 0, '');
"""
UNDO = """
drop trigger trail_append_only on trail_entry;
drop trigger trail_never_emptied on trail_entry;
drop function trail_refuse();
delete from trail_head;
"""


class Migration(migrations.Migration):
    dependencies = [("trail", "0001_initial")]
    operations = [migrations.RunSQL(GUARD, UNDO)]
