-- What PostgreSQL itself holds: evidence is added and never changed, letters and cards stand, seals come first, two people publish.

create function forbid_change() returns trigger language plpgsql as $$
begin
  raise exception 'rows of % are evidence: they are added, never changed or removed', tg_table_name;
end
$$;

create function forbid_truncate() returns trigger language plpgsql as $$
begin
  raise exception 'rows of % are evidence: they are added, never changed or removed', tg_table_name;
end
$$;

create function give_variants() returns trigger language plpgsql as $$
declare made integer; given record;
begin
  for given in select * from (values ('A', new.stock_revision_id), ('B', new.revision_id)) v(letter, revision) loop
    insert into variant (application_id, letter, name, build_title, control_mode, rounds, version)
      values (new.id, given.letter, '', '', '', 0, 1) returning id into made;
    insert into variant_part (variant_id, revision_id, casting, finish, machining, coating, modified)
      select made, id, state_of(state, 'cast'), state_of(state, 'finish|port|weld'), state_of(state, 'machin'),
        state_of(state, 'coat'), state_of(state, '') from revision where id = given.revision;
  end loop;
  return new;
end
$$;

create function hold_card() returns trigger language plpgsql as $$
begin
  if exists (select from dyno_session s join pull p on p.session_id = s.id where s.card_id = old.id) then
    raise exception 'test card % has pulls: it is kept as they were taken under it', old.id;
  end if;
  return case when tg_op = 'DELETE' then old else new end;
end
$$;

create function hold_part_of_card() returns trigger language plpgsql as $$
declare card integer := case when tg_op = 'INSERT' then new.card_id else old.card_id end;
begin
  if exists (select from dyno_session s join pull p on p.session_id = s.id where s.card_id = card) then
    raise exception 'test card % has pulls: it is kept as they were taken under it', card;
  end if;
  return case when tg_op = 'DELETE' then old else new end;
end
$$;

create function hold_published() returns trigger language plpgsql as $$
begin
  if exists (select from claim_sheet where claim_id = old.id) then
    raise exception 'claim % is published: it is kept as it was approved', old.id;
  end if;
  return case when tg_op = 'DELETE' then old else new end;
end
$$;

create function hold_session_card() returns trigger language plpgsql as $$
begin
  if (new.card_id <> old.card_id or new.application_id <> old.application_id)
      and exists (select from pull where session_id = old.id) then
    raise exception 'dyno session % has pulls: it keeps the card they were taken under', old.id;
  end if;
  return new;
end
$$;

create function hold_variant() returns trigger language plpgsql as $$
declare held integer := case when tg_table_name = 'variant' then old.id else (to_jsonb(coalesce(old, new)) ->> 'variant_id')::int end;
begin
  if exists (select from card_variant v join dyno_session s on s.card_id = v.card_id
      join pull p on p.session_id = s.id and p.label = v.letter where v.variant_id = held) then
    raise exception 'variant % was pulled: it is kept as it was; give the change another letter', held;
  end if;
  return case when tg_op = 'DELETE' then old else new end;
end
$$;

create function letter_on_card() returns trigger language plpgsql as $$
begin
  if not exists (select from card_variant v join dyno_session s on s.card_id = v.card_id
      where s.id = new.session_id and v.letter = new.label) then
    raise exception 'there is no variant % on the card of session %', new.label, new.session_id;
  end if;
  return new;
end
$$;

create function letter_stands() returns trigger language plpgsql as $$
declare said text := to_jsonb(new) ->> tg_argv[0]; dossier integer;
begin
  if said in ('', 'both') then return new; end if;
  if tg_argv[1] = 'bench' then select application_id into dossier from bench_session where id = new.session_id;
  else dossier := new.application_id; end if;
  if not exists (select from variant where application_id = dossier and letter = said) then
    raise exception 'there is no variant % in dossier %', said, dossier;
  end if;
  return new;
end
$$;

create function prediction_stands_before() returns trigger language plpgsql as $$
begin
  perform 1 from application where id = new.application_id for no key update;
  if not new.after_test and (
    (new.quantity <> 'airflow' and exists (
      select from pull p join dyno_session s on s.id = p.session_id join card_pair c on c.card_id = s.card_id
      where c.application_id = new.application_id and (new.card_id is null or s.card_id = new.card_id)))
    or (new.quantity = 'airflow' and exists (
      select from reading r join trace t on t.id = r.trace_id join bench_session b on b.id = t.session_id
      where b.application_id = new.application_id and t.label = 'B')))
  then raise exception 'a prediction made after the test must say so'; end if;
  return new;
end
$$;

create function seal_at_first_pull() returns trigger language plpgsql as $$
begin
  perform 1 from application a join card_pair c on c.application_id = a.id join dyno_session s on s.card_id = c.card_id
    where s.id = new.session_id order by a.id for share of a;
  insert into prediction_seal (prediction_id, card_id, sealed_at)
    select p.id, s.card_id, now() from dyno_session s join card_pair c on c.card_id = s.card_id
    join prediction p on p.application_id = c.application_id
    where s.id = new.session_id and not p.after_test and p.quantity <> 'airflow'
      and (p.card_id is null or p.card_id = s.card_id)
      and not exists (select from prediction_seal x where x.prediction_id = p.id);
  return new;
end
$$;

create function seal_at_first_reading() returns trigger language plpgsql as $$
begin
  perform 1 from application a join bench_session b on b.application_id = a.id join trace t on t.session_id = b.id
    where t.id = new.trace_id and t.label = 'B' for share of a;
  insert into prediction_seal (prediction_id, sealed_at)
    select p.id, now() from prediction p join trace t on t.id = new.trace_id join bench_session b on b.id = t.session_id
    where t.label = 'B' and p.application_id = b.application_id and not p.after_test and p.quantity = 'airflow'
      and not exists (select from prediction_seal x where x.prediction_id = p.id);
  return new;
end
$$;

create function second_person() returns trigger language plpgsql as $$
begin
  if exists (select from claim_act where claim_id = new.claim_id and by_id = new.approved_by_id
      and act in ('drafted', 'changed', 'submitted')) then
    raise exception 'ck_claim_second_person: whoever wrote a claim cannot approve it';
  end if;
  return new;
end
$$;

create function state_of(said text, pattern text) returns text language sql immutable as $$
  select coalesce(string_agg(trim(p), ', '), '') from regexp_split_to_table(said, ',') p
  where trim(p) <> '' and case when pattern = '' then trim(p) !~* 'cast|finish|port|weld|machin|coat' else p ~* pattern end
$$;
create trigger gives_variants after insert on application for each row execute function give_variants();
create trigger letter_stands before insert or update of label on build_sheet for each row execute function letter_stands('label', 'own');
create trigger letter_stands before insert or update of belongs_to on element for each row execute function letter_stands('belongs_to', 'own');
create trigger letter_stands before insert or update of belongs_to on face for each row execute function letter_stands('belongs_to', 'own');
create trigger letter_stands before insert on pull for each row execute function letter_on_card();
create trigger letter_stands before insert or update of label on trace for each row execute function letter_stands('label', 'bench');
create trigger letter_stands before insert or update of label on wheel_sheet for each row execute function letter_stands('label', 'own');
create trigger published before delete or update on claim for each row execute function hold_published();
create trigger recorded before insert or delete or update on card_pair for each row execute function hold_part_of_card();
create trigger recorded before insert or delete or update on card_variant for each row execute function hold_part_of_card();
create trigger recorded before update on dyno_session for each row execute function hold_session_card();
create trigger recorded before delete or update on test_card for each row execute function hold_card();
create trigger recorded before delete or update on variant for each row execute function hold_variant();
create trigger recorded before insert or delete or update on variant_part for each row execute function hold_variant();
create trigger seals_predictions after insert on pull for each row execute function seal_at_first_pull();
create trigger seals_predictions after insert on reading for each row execute function seal_at_first_reading();
create trigger second_person before insert on claim_sheet for each row execute function second_person();
create trigger stands_before before insert on prediction for each row execute function prediction_stands_before();
