-- Tables, comments and indexes of the first state.

CREATE TABLE user_account (
  name VARCHAR NOT NULL,
  email VARCHAR NOT NULL,
  role VARCHAR NOT NULL,
  password_hash VARCHAR NOT NULL,
  units VARCHAR NOT NULL,
  theme VARCHAR NOT NULL,
  is_active BOOLEAN NOT NULL,
  skills VARCHAR NOT NULL,
  rate DOUBLE PRECISION NOT NULL,
  password_changed_at TIMESTAMP WITH TIME ZONE,
  code_secret VARCHAR,
  code_used INTEGER NOT NULL,
  tour INTEGER,
  id SERIAL NOT NULL,
  CONSTRAINT pk_user_account PRIMARY KEY (id),
  CONSTRAINT ck_user_account_role CHECK (role in ('viewer', 'tester', 'approver', 'admin')),
  CONSTRAINT uq_user_account_email UNIQUE (email)
);
COMMENT ON COLUMN user_account.units IS 'display system: us or metric';
COMMENT ON COLUMN user_account.theme IS 'paper or cell';
COMMENT ON COLUMN user_account.skills IS 'what they can do, comma separated';
COMMENT ON COLUMN user_account.rate IS 'money of the house an hour of work';
COMMENT ON COLUMN user_account.password_changed_at IS 'the last time; None for the first one';
COMMENT ON COLUMN user_account.code_secret IS 'secret of one-time codes, sealed; none: not set up';
COMMENT ON COLUMN user_account.code_used IS 'time step of the last code: none counts twice';
COMMENT ON COLUMN user_account.tour IS 'stop of the tour where they left it';

CREATE TABLE sign_in_try (
  address VARCHAR NOT NULL,
  email VARCHAR NOT NULL,
  at TIMESTAMP WITH TIME ZONE NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_sign_in_try PRIMARY KEY (id)
);
CREATE INDEX ix_sign_in_try_email ON sign_in_try (email);
CREATE INDEX ix_sign_in_try_address ON sign_in_try (address);
COMMENT ON COLUMN sign_in_try.address IS 'network address it came from';
COMMENT ON COLUMN sign_in_try.email IS 'as it was written, shortened';

CREATE TABLE sent_form (
  key VARCHAR NOT NULL,
  at TIMESTAMP WITH TIME ZONE NOT NULL,
  location VARCHAR NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_sent_form PRIMARY KEY (id),
  CONSTRAINT uq_sent_form_key UNIQUE (key)
);
CREATE INDEX ix_sent_form_at ON sent_form (at);

CREATE TABLE bench (
  name VARCHAR NOT NULL,
  meter VARCHAR NOT NULL,
  percent_step DOUBLE PRECISION NOT NULL,
  pressure_step DOUBLE PRECISION NOT NULL,
  flow_step DOUBLE PRECISION NOT NULL,
  drop_step DOUBLE PRECISION NOT NULL,
  pipe_diameter DOUBLE PRECISION,
  taps VARCHAR NOT NULL,
  temperature_rule VARCHAR NOT NULL,
  repeatability DOUBLE PRECISION NOT NULL,
  repeatability_source VARCHAR NOT NULL,
  leak_limit DOUBLE PRECISION NOT NULL,
  check_days INTEGER NOT NULL,
  device_url VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_bench PRIMARY KEY (id),
  CONSTRAINT ck_bench_meter CHECK (meter in ('range', 'orifice', 'direct')),
  CONSTRAINT ck_bench_temperature_rule CHECK (temperature_rule in ('none', 'temperature', 'state', 'volume')),
  CONSTRAINT ck_bench_card CHECK (repeatability >= 0 and check_days > 0 and leak_limit > 0),
  CONSTRAINT uq_bench_name UNIQUE (name)
);
COMMENT ON COLUMN bench.meter IS 'range, orifice or direct';
COMMENT ON COLUMN bench.percent_step IS 'smallest step of the percentage, share of one';
COMMENT ON COLUMN bench.pressure_step IS 'Pa, smallest step of the test pressure';
COMMENT ON COLUMN bench.flow_step IS 'm3/s, smallest step of a direct flow';
COMMENT ON COLUMN bench.drop_step IS 'Pa, smallest step of the drop across a plate';
COMMENT ON COLUMN bench.pipe_diameter IS 'm, inside, of an orifice meter';
COMMENT ON COLUMN bench.repeatability IS 'standard deviation, share of the flow';
COMMENT ON COLUMN bench.leak_limit IS 'm3/s at the test pressure';
COMMENT ON COLUMN bench.check_days IS 'days from one plate check to the next';
COMMENT ON COLUMN bench.device_url IS 'serial port or socket:// of the live bench';
COMMENT ON COLUMN bench.version IS 'counts changes; must match when saving';

CREATE TABLE blob (
  sha256 VARCHAR NOT NULL,
  size BIGINT NOT NULL,
  kept_at TIMESTAMP WITH TIME ZONE NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_blob PRIMARY KEY (id),
  CONSTRAINT uq_blob_sha256 UNIQUE (sha256)
);
COMMENT ON COLUMN blob.size IS 'bytes, unpacked';

CREATE TABLE vehicle (
  name VARCHAR NOT NULL,
  years VARCHAR NOT NULL,
  cycle VARCHAR NOT NULL,
  bore DOUBLE PRECISION,
  stroke DOUBLE PRECISION,
  chamber_volume DOUBLE PRECISION,
  rod DOUBLE PRECISION,
  case_volume DOUBLE PRECISION,
  cylinders INTEGER NOT NULL,
  compression_ratio DOUBLE PRECISION NOT NULL,
  intake_duration DOUBLE PRECISION,
  induction VARCHAR NOT NULL,
  fuel VARCHAR NOT NULL,
  use VARCHAR NOT NULL,
  market VARCHAR NOT NULL,
  redline DOUBLE PRECISION NOT NULL,
  band_low DOUBLE PRECISION NOT NULL,
  band_middle DOUBLE PRECISION NOT NULL,
  band_top DOUBLE PRECISION NOT NULL,
  band_end DOUBLE PRECISION NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_vehicle PRIMARY KEY (id),
  CONSTRAINT ck_vehicle_cycle CHECK (cycle in ('four-stroke', 'two-stroke', 'rotary')),
  CONSTRAINT ck_vehicle_geometry CHECK (cylinders > 0 and case when cycle = 'rotary' then chamber_volume > 0 and bore is null and stroke is null else bore > 0 and stroke > 0 and chamber_volume is null end),
  CONSTRAINT ck_vehicle_bands CHECK (band_low < band_middle and band_middle < band_top and band_top < band_end),
  CONSTRAINT uq_vehicle_name UNIQUE (name)
);
COMMENT ON COLUMN vehicle.cycle IS 'four-stroke, two-stroke or rotary';
COMMENT ON COLUMN vehicle.bore IS 'm; none of a rotary';
COMMENT ON COLUMN vehicle.stroke IS 'm; none of a rotary';
COMMENT ON COLUMN vehicle.chamber_volume IS 'm3, displacement of one chamber of a rotary';
COMMENT ON COLUMN vehicle.rod IS 'm, between centres';
COMMENT ON COLUMN vehicle.case_volume IS 'm3, of a two-stroke crankcase, piston down';
COMMENT ON COLUMN vehicle.intake_duration IS 'rad of crank; none until it is measured';
COMMENT ON COLUMN vehicle.redline IS 'rad/s';
COMMENT ON COLUMN vehicle.band_low IS 'rad/s';
COMMENT ON COLUMN vehicle.band_middle IS 'rad/s';
COMMENT ON COLUMN vehicle.band_top IS 'rad/s';
COMMENT ON COLUMN vehicle.band_end IS 'rad/s';
COMMENT ON COLUMN vehicle.version IS 'counts changes; must match when saving';

CREATE TABLE product (
  name VARCHAR NOT NULL,
  family VARCHAR NOT NULL,
  side VARCHAR NOT NULL,
  is_stock BOOLEAN NOT NULL,
  price DOUBLE PRECISION,
  price_on DATE,
  shelf VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_product PRIMARY KEY (id),
  CONSTRAINT ck_product_side CHECK (side in ('intake', 'exhaust')),
  CONSTRAINT ck_product_shelf CHECK (shelf in ('', 'shelf', 'order', 'wanted')),
  CONSTRAINT ck_product_price CHECK (price >= 0),
  CONSTRAINT uq_product_name UNIQUE (name)
);
COMMENT ON COLUMN product.price IS 'retail, in the money of the house';
COMMENT ON COLUMN product.price_on IS 'day of the price';
COMMENT ON COLUMN product.shelf IS 'shelf, order, wanted (not owned yet), or not known';
COMMENT ON COLUMN product.version IS 'counts changes; must match when saving';

CREATE TABLE cell (
  name VARCHAR NOT NULL,
  opens INTEGER NOT NULL,
  closes INTEGER NOT NULL,
  days VARCHAR NOT NULL,
  rate DOUBLE PRECISION NOT NULL,
  note VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_cell PRIMARY KEY (id),
  CONSTRAINT ck_cell_hours CHECK (opens < closes),
  CONSTRAINT ck_cell_rate CHECK (rate >= 0),
  CONSTRAINT uq_cell_name UNIQUE (name)
);
COMMENT ON COLUMN cell.opens IS 'minutes after midnight, local';
COMMENT ON COLUMN cell.closes IS 'minutes after midnight, local';
COMMENT ON COLUMN cell.days IS 'days of the week that it is open on, 1 Monday';
COMMENT ON COLUMN cell.rate IS 'money of the house an hour';
COMMENT ON COLUMN cell.version IS 'counts changes; must match when saving';

CREATE TABLE test_engine (
  serial VARCHAR NOT NULL,
  what VARCHAR NOT NULL,
  repairs VARCHAR NOT NULL,
  ring_gaps VARCHAR NOT NULL,
  gaskets VARCHAR NOT NULL,
  breakaway DOUBLE PRECISION,
  running DOUBLE PRECISION,
  note VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_test_engine PRIMARY KEY (id),
  CONSTRAINT uq_test_engine_serial UNIQUE (serial)
);
COMMENT ON COLUMN test_engine.what IS 'which engine it is';
COMMENT ON COLUMN test_engine.repairs IS 'repairs of the block';
COMMENT ON COLUMN test_engine.breakaway IS 'N m, torque that starts it turning';
COMMENT ON COLUMN test_engine.running IS 'N m, torque that keeps it turning';
COMMENT ON COLUMN test_engine.version IS 'counts changes; must match when saving';

CREATE TABLE tune_file (
  name VARCHAR NOT NULL,
  author VARCHAR NOT NULL,
  sha256 VARCHAR NOT NULL,
  sensors VARCHAR NOT NULL,
  injectors VARCHAR NOT NULL,
  runner_valves VARCHAR NOT NULL,
  mixture_target DOUBLE PRECISION,
  note VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_tune_file PRIMARY KEY (id),
  CONSTRAINT uq_tune_file_name UNIQUE (name)
);
COMMENT ON COLUMN tune_file.name IS 'its identity';
COMMENT ON COLUMN tune_file.sha256 IS 'of the file; the file itself is not kept';
COMMENT ON COLUMN tune_file.sensors IS 'pressure sensor it expects';
COMMENT ON COLUMN tune_file.injectors IS 'injectors it expects';
COMMENT ON COLUMN tune_file.runner_valves IS 'runner valves it drives';
COMMENT ON COLUMN tune_file.mixture_target IS 'lambda under full load';
COMMENT ON COLUMN tune_file.version IS 'counts changes; must match when saving';

CREATE TABLE fuel_batch (
  name VARCHAR NOT NULL,
  grade VARCHAR NOT NULL,
  delivered_on DATE NOT NULL,
  density DOUBLE PRECISION,
  note VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_fuel_batch PRIMARY KEY (id),
  CONSTRAINT uq_fuel_batch_name UNIQUE (name)
);
COMMENT ON COLUMN fuel_batch.density IS 'kg/m3';
COMMENT ON COLUMN fuel_batch.version IS 'counts changes; must match when saving';

CREATE TABLE sensor (
  name VARCHAR NOT NULL,
  measures VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  low DOUBLE PRECISION NOT NULL,
  high DOUBLE PRECISION NOT NULL,
  is_absolute BOOLEAN NOT NULL,
  due_on DATE,
  note VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_sensor PRIMARY KEY (id),
  CONSTRAINT ck_sensor_range CHECK (low < high),
  CONSTRAINT uq_sensor_name UNIQUE (name)
);
COMMENT ON COLUMN sensor.measures IS 'channel it feeds';
COMMENT ON COLUMN sensor.kind IS 'kind of its range';
COMMENT ON COLUMN sensor.low IS 'SI';
COMMENT ON COLUMN sensor.high IS 'SI';
COMMENT ON COLUMN sensor.due_on IS 'day its calibration lapses';
COMMENT ON COLUMN sensor.version IS 'counts changes; must match when saving';

CREATE TABLE checklist (
  family VARCHAR NOT NULL,
  lines JSONB NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_checklist PRIMARY KEY (id),
  CONSTRAINT uq_checklist_family UNIQUE (family)
);
COMMENT ON COLUMN checklist.family IS 'family of part, or “every”';
COMMENT ON COLUMN checklist.version IS 'counts changes; must match when saving';

CREATE TABLE outside_table (
  name VARCHAR NOT NULL,
  source VARCHAR NOT NULL,
  grade VARCHAR NOT NULL,
  test_bed VARCHAR NOT NULL,
  interest VARCHAR NOT NULL,
  quantity VARCHAR NOT NULL,
  columns JSONB NOT NULL,
  rows JSONB NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_outside_table PRIMARY KEY (id),
  CONSTRAINT ck_outside_table_grade CHECK (grade in ('supplier', 'published', 'hearsay')),
  CONSTRAINT uq_outside_table_name UNIQUE (name)
);
COMMENT ON COLUMN outside_table.source IS 'where it stands';
COMMENT ON COLUMN outside_table.grade IS 'supplier''s test with data, published table, hearsay';
COMMENT ON COLUMN outside_table.test_bed IS 'on what it was tested';
COMMENT ON COLUMN outside_table.interest IS 'what the source gains by it';
COMMENT ON COLUMN outside_table.quantity IS 'kind of its columns';
COMMENT ON COLUMN outside_table.columns IS 'names of the curves';
COMMENT ON COLUMN outside_table.rows IS 'speed [rad/s] and one value [SI] a curve';
COMMENT ON COLUMN outside_table.version IS 'counts changes; must match when saving';

CREATE TABLE instrument_address (
  address VARCHAR NOT NULL,
  what VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  is_listed BOOLEAN NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_instrument_address PRIMARY KEY (id),
  CONSTRAINT uq_instrument_address_address UNIQUE (address)
);
COMMENT ON COLUMN instrument_address.address IS '/dev/ttyUSB0, COM3 or socket://host:port';
COMMENT ON COLUMN instrument_address.what IS 'what stands there, in the shop''s words';
COMMENT ON COLUMN instrument_address.kind IS 'bench, dyno, logger, weather or tool; empty: not said';

CREATE TABLE instrument_line (
  address VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  wanted_at TIMESTAMP WITH TIME ZONE NOT NULL,
  began_at TIMESTAMP WITH TIME ZONE NOT NULL,
  told_at TIMESTAMP WITH TIME ZONE,
  state VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  device VARCHAR NOT NULL,
  refused INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_instrument_line PRIMARY KEY (id),
  CONSTRAINT uq_instrument_line_address UNIQUE (address)
);
COMMENT ON COLUMN instrument_line.kind IS 'what kind of device answers there';
COMMENT ON COLUMN instrument_line.wanted_at IS 'when somebody last looked';
COMMENT ON COLUMN instrument_line.began_at IS 'when somebody began to look';
COMMENT ON COLUMN instrument_line.told_at IS 'when the gateway last wrote';
COMMENT ON COLUMN instrument_line.device IS 'what the device calls itself';
COMMENT ON COLUMN instrument_line.refused IS 'lines that were no readings';

CREATE TABLE source_mapping (
  fingerprint VARCHAR NOT NULL,
  name VARCHAR NOT NULL,
  columns JSONB NOT NULL,
  told JSONB NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_source_mapping PRIMARY KEY (id),
  CONSTRAINT uq_source_mapping_fingerprint UNIQUE (fingerprint)
);
COMMENT ON COLUMN source_mapping.told IS 'scale of the mixture meter, smoothing …';

CREATE TABLE signing_key (
  public VARCHAR NOT NULL,
  sealed VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_signing_key PRIMARY KEY (id),
  CONSTRAINT uq_signing_key_public UNIQUE (public)
);
COMMENT ON COLUMN signing_key.public IS '32 bytes, hexadecimal';
COMMENT ON COLUMN signing_key.sealed IS 'private half, sealed';

CREATE TABLE sign_in (
  user_id INTEGER NOT NULL,
  digest VARCHAR NOT NULL,
  begun_at TIMESTAMP WITH TIME ZONE NOT NULL,
  ended_at TIMESTAMP WITH TIME ZONE,
  id SERIAL NOT NULL,
  CONSTRAINT pk_sign_in PRIMARY KEY (id),
  CONSTRAINT fk_sign_in_user_id_user_account FOREIGN KEY(user_id) REFERENCES user_account (id),
  CONSTRAINT uq_sign_in_digest UNIQUE (digest)
);
CREATE INDEX ix_sign_in_user_id ON sign_in (user_id);
COMMENT ON COLUMN sign_in.digest IS 'SHA-256 of the key in the cookie';

CREATE TABLE password_link (
  user_id INTEGER NOT NULL,
  digest VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  ends_at TIMESTAMP WITH TIME ZONE NOT NULL,
  used_at TIMESTAMP WITH TIME ZONE,
  id SERIAL NOT NULL,
  CONSTRAINT pk_password_link PRIMARY KEY (id),
  CONSTRAINT fk_password_link_user_id_user_account FOREIGN KEY(user_id) REFERENCES user_account (id),
  CONSTRAINT uq_password_link_digest UNIQUE (digest)
);
COMMENT ON COLUMN password_link.digest IS 'SHA-256 of the key in the link';

CREATE TABLE audit_entry (
  at TIMESTAMP WITH TIME ZONE NOT NULL,
  user_id INTEGER,
  user_name VARCHAR NOT NULL,
  application_id INTEGER,
  action VARCHAR NOT NULL,
  entity VARCHAR NOT NULL,
  entity_id INTEGER NOT NULL,
  sentence VARCHAR NOT NULL,
  changes JSONB NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_audit_entry PRIMARY KEY (id),
  CONSTRAINT fk_audit_entry_user_id_user_account FOREIGN KEY(user_id) REFERENCES user_account (id)
);
CREATE INDEX ix_audit_entry_at ON audit_entry (at);
CREATE INDEX ix_audit_entry_application_at ON audit_entry (application_id, at);
COMMENT ON COLUMN audit_entry.user_name IS 'as it was at the time';
COMMENT ON COLUMN audit_entry.application_id IS 'the dossier it belongs to; kept without a key';
COMMENT ON COLUMN audit_entry.action IS 'added, changed or removed';

CREATE TABLE bench_range (
  bench_id INTEGER NOT NULL,
  label VARCHAR NOT NULL,
  full_scale DOUBLE PRECISION NOT NULL,
  plate_diameter DOUBLE PRECISION,
  id SERIAL NOT NULL,
  CONSTRAINT pk_bench_range PRIMARY KEY (id),
  CONSTRAINT uq_bench_range_bench_id UNIQUE (bench_id, label),
  CONSTRAINT ck_bench_range_full_scale CHECK (full_scale > 0),
  CONSTRAINT ck_bench_range_plate_diameter CHECK (plate_diameter is null or plate_diameter > 0),
  CONSTRAINT fk_bench_range_bench_id_bench FOREIGN KEY(bench_id) REFERENCES bench (id)
);
COMMENT ON COLUMN bench_range.full_scale IS 'm3/s';
COMMENT ON COLUMN bench_range.plate_diameter IS 'm, bore of an orifice plate';

CREATE TABLE calibration (
  bench_id INTEGER NOT NULL,
  held_on DATE NOT NULL,
  plate VARCHAR NOT NULL,
  plate_flow DOUBLE PRECISION NOT NULL,
  plate_uncertainty DOUBLE PRECISION NOT NULL,
  read_flow DOUBLE PRECISION NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_calibration PRIMARY KEY (id),
  CONSTRAINT ck_calibration_positive CHECK (plate_flow > 0 and read_flow > 0 and plate_uncertainty >= 0),
  CONSTRAINT ck_calibration_plate CHECK (length(trim(plate)) > 0),
  CONSTRAINT fk_calibration_bench_id_bench FOREIGN KEY(bench_id) REFERENCES bench (id),
  CONSTRAINT fk_calibration_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_calibration_bench_id ON calibration (bench_id);
COMMENT ON COLUMN calibration.plate IS 'which plate';
COMMENT ON COLUMN calibration.plate_flow IS 'm3/s, known, at the test pressure';
COMMENT ON COLUMN calibration.plate_uncertainty IS 'expanded, share of the flow';
COMMENT ON COLUMN calibration.read_flow IS 'm3/s, read here at that pressure';

CREATE TABLE blob_part (
  blob_id INTEGER NOT NULL,
  number INTEGER NOT NULL,
  size INTEGER NOT NULL,
  data BYTEA NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_blob_part PRIMARY KEY (id),
  CONSTRAINT uq_blob_part_blob_id UNIQUE (blob_id, number),
  CONSTRAINT fk_blob_part_blob_id_blob FOREIGN KEY(blob_id) REFERENCES blob (id)
);
COMMENT ON COLUMN blob_part.number IS 'place in the blob, from 0';
COMMENT ON COLUMN blob_part.size IS 'bytes, unpacked';

CREATE TABLE revision (
  product_id INTEGER NOT NULL,
  name VARCHAR NOT NULL,
  state VARCHAR NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_revision PRIMARY KEY (id),
  CONSTRAINT uq_revision_product_id UNIQUE (product_id, name),
  CONSTRAINT fk_revision_product_id_product FOREIGN KEY(product_id) REFERENCES product (id)
);
COMMENT ON COLUMN revision.state IS 'as cast, hand-finished, machined, coated …';

CREATE TABLE engine_stay (
  engine_id INTEGER NOT NULL,
  vehicle_id INTEGER,
  since DATE NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_engine_stay PRIMARY KEY (id),
  CONSTRAINT fk_engine_stay_engine_id_test_engine FOREIGN KEY(engine_id) REFERENCES test_engine (id),
  CONSTRAINT fk_engine_stay_vehicle_id_vehicle FOREIGN KEY(vehicle_id) REFERENCES vehicle (id),
  CONSTRAINT fk_engine_stay_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_engine_stay_engine_id ON engine_stay (engine_id);
COMMENT ON COLUMN engine_stay.vehicle_id IS 'None: on the stand';

CREATE TABLE dyno (
  name VARCHAR NOT NULL,
  measured_at VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  channels VARCHAR NOT NULL,
  calibrated_on DATE,
  calibration_due DATE,
  cell_id INTEGER,
  roller_inertia DOUBLE PRECISION,
  roller_radius DOUBLE PRECISION,
  device_url VARCHAR NOT NULL,
  logger_url VARCHAR NOT NULL,
  weather_url VARCHAR NOT NULL,
  repeatability DOUBLE PRECISION NOT NULL,
  repeatability_source VARCHAR NOT NULL,
  fitting_repeatability DOUBLE PRECISION,
  fitting_freedom INTEGER NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_dyno PRIMARY KEY (id),
  CONSTRAINT ck_dyno_measured_at CHECK (measured_at in ('wheel', 'crank')),
  CONSTRAINT ck_dyno_kind CHECK (kind in ('', 'roller inertia', 'roller with brake', 'hub', 'engine')),
  CONSTRAINT ck_dyno_fitting CHECK (fitting_repeatability is null or (fitting_repeatability > 0 and fitting_freedom > 0)),
  CONSTRAINT uq_dyno_name UNIQUE (name),
  CONSTRAINT fk_dyno_cell_id_cell FOREIGN KEY(cell_id) REFERENCES cell (id)
);
COMMENT ON COLUMN dyno.kind IS 'roller inertia, roller with brake, hub, engine, or not said';
COMMENT ON COLUMN dyno.channels IS 'what it logs beside speed and torque';
COMMENT ON COLUMN dyno.roller_inertia IS 'kg m2, of rollers and what turns with them';
COMMENT ON COLUMN dyno.roller_radius IS 'm';
COMMENT ON COLUMN dyno.device_url IS 'where it answers live';
COMMENT ON COLUMN dyno.logger_url IS 'where the logger beside it answers';
COMMENT ON COLUMN dyno.weather_url IS 'where the weather station of its cell answers';
COMMENT ON COLUMN dyno.repeatability IS 'N m, standard deviation of band-mean torque, pull to pull';
COMMENT ON COLUMN dyno.fitting_repeatability IS 'N m, standard deviation from set to set, the part off and on again';
COMMENT ON COLUMN dyno.fitting_freedom IS 'degrees of freedom behind it: sets less one';
COMMENT ON COLUMN dyno.version IS 'counts changes; must match when saving';

CREATE TABLE practice_round (
  user_id INTEGER NOT NULL,
  desk VARCHAR NOT NULL,
  seed INTEGER NOT NULL,
  fault VARCHAR NOT NULL,
  said VARCHAR NOT NULL,
  found VARCHAR NOT NULL,
  points INTEGER NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_practice_round PRIMARY KEY (id),
  CONSTRAINT fk_practice_round_user_id_user_account FOREIGN KEY(user_id) REFERENCES user_account (id)
);
CREATE INDEX ix_practice_round_user_id ON practice_round (user_id);
COMMENT ON COLUMN practice_round.desk IS 'cell or bench';
COMMENT ON COLUMN practice_round.fault IS 'what was made wrong; none where nothing was';
COMMENT ON COLUMN practice_round.said IS 'what the learner said it was';
COMMENT ON COLUMN practice_round.found IS 'key of the check that the software named first';
COMMENT ON COLUMN practice_round.points IS '0 missed, 1 seen that it is out, 2 named';

CREATE TABLE health_entry (
  engine_id INTEGER,
  vehicle_id INTEGER,
  held_on DATE NOT NULL,
  kind VARCHAR NOT NULL,
  figures JSONB NOT NULL,
  words VARCHAR NOT NULL,
  state VARCHAR NOT NULL,
  told VARCHAR NOT NULL,
  replaces_id INTEGER,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_health_entry PRIMARY KEY (id),
  CONSTRAINT ck_health_entry_one_carrier CHECK ((engine_id is null) <> (vehicle_id is null)),
  CONSTRAINT ck_health_entry_state CHECK (state in ('sound', 'finding', 'done')),
  CONSTRAINT fk_health_entry_engine_id_test_engine FOREIGN KEY(engine_id) REFERENCES test_engine (id),
  CONSTRAINT fk_health_entry_vehicle_id_vehicle FOREIGN KEY(vehicle_id) REFERENCES vehicle (id),
  CONSTRAINT uq_health_entry_replaces_id UNIQUE (replaces_id),
  CONSTRAINT fk_health_entry_replaces_id_health_entry FOREIGN KEY(replaces_id) REFERENCES health_entry (id),
  CONSTRAINT fk_health_entry_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_health_entry_vehicle_id ON health_entry (vehicle_id);
CREATE INDEX ix_health_entry_engine_id ON health_entry (engine_id);
COMMENT ON COLUMN health_entry.kind IS 'compression, leak-down, oil …';
COMMENT ON COLUMN health_entry.figures IS 'one per cylinder or one alone, SI';
COMMENT ON COLUMN health_entry.state IS 'sound, finding, or done: a repair or change';
COMMENT ON COLUMN health_entry.told IS 'what the figures say';

CREATE UNLOGGED TABLE instrument_sample (
  line_id INTEGER NOT NULL,
  at DOUBLE PRECISION NOT NULL,
  spoken JSONB NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_instrument_sample PRIMARY KEY (id),
  CONSTRAINT fk_instrument_sample_line_id_instrument_line FOREIGN KEY(line_id) REFERENCES instrument_line (id)
);
CREATE INDEX ix_instrument_sample_line_at ON instrument_sample (line_id, at);
COMMENT ON COLUMN instrument_sample.at IS 's since 1970 by the clock of the database';
COMMENT ON COLUMN instrument_sample.spoken IS 'what the device said; SI';

CREATE TABLE calendar_key (
  user_id INTEGER NOT NULL,
  digest VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  revoked_at TIMESTAMP WITH TIME ZONE,
  id SERIAL NOT NULL,
  CONSTRAINT pk_calendar_key PRIMARY KEY (id),
  CONSTRAINT fk_calendar_key_user_id_user_account FOREIGN KEY(user_id) REFERENCES user_account (id),
  CONSTRAINT uq_calendar_key_digest UNIQUE (digest)
);
CREATE INDEX ix_calendar_key_user_id ON calendar_key (user_id);
COMMENT ON COLUMN calendar_key.digest IS 'SHA-256 of the key in the address';

CREATE TABLE claim_rules (
  house VARCHAR NOT NULL,
  code_required BOOLEAN NOT NULL,
  clock_days INTEGER NOT NULL,
  at_once JSONB NOT NULL,
  most_age INTEGER NOT NULL,
  retest_days INTEGER NOT NULL,
  raw_files BOOLEAN NOT NULL,
  money VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER,
  id SERIAL NOT NULL,
  CONSTRAINT pk_claim_rules PRIMARY KEY (id),
  CONSTRAINT ck_claim_rules_clock CHECK (clock_days between 0 and 365),
  CONSTRAINT ck_claim_rules_age CHECK (most_age between 30 and 3650 and retest_days between 30 and 3650),
  CONSTRAINT fk_claim_rules_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
COMMENT ON COLUMN claim_rules.house IS 'name of the house on its sheets';
COMMENT ON COLUMN claim_rules.code_required IS 'approval asks for a one-time code';
COMMENT ON COLUMN claim_rules.clock_days IS 'days from a question to withdrawal by itself';
COMMENT ON COLUMN claim_rules.at_once IS 'causes that withdraw a claim at once';
COMMENT ON COLUMN claim_rules.most_age IS 'days: older evidence is not published';
COMMENT ON COLUMN claim_rules.retest_days IS 'days from publishing to the next test';
COMMENT ON COLUMN claim_rules.raw_files IS 'bundles hold raw files, not channels with their hash';
COMMENT ON COLUMN claim_rules.money IS 'name of the money of the house';

CREATE TABLE saved_view (
  user_id INTEGER NOT NULL,
  name VARCHAR NOT NULL,
  query VARCHAR NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_saved_view PRIMARY KEY (id),
  CONSTRAINT uq_saved_view_user_id UNIQUE (user_id, name),
  CONSTRAINT fk_saved_view_user_id_user_account FOREIGN KEY(user_id) REFERENCES user_account (id)
);
COMMENT ON COLUMN saved_view.query IS 'query of the address';

CREATE TABLE application (
  vehicle_id INTEGER NOT NULL,
  revision_id INTEGER NOT NULL,
  stock_revision_id INTEGER NOT NULL,
  approval VARCHAR NOT NULL,
  approval_note VARCHAR NOT NULL,
  approval_by_id INTEGER,
  created_at TIMESTAMP WITH TIME ZONE NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_application PRIMARY KEY (id),
  CONSTRAINT uq_application_vehicle_id UNIQUE (vehicle_id, revision_id),
  CONSTRAINT ck_application_approval CHECK (approval in ('unknown', 'closed_course', 'approved', 'not_required')),
  CONSTRAINT fk_application_vehicle_id_vehicle FOREIGN KEY(vehicle_id) REFERENCES vehicle (id),
  CONSTRAINT fk_application_revision_id_revision FOREIGN KEY(revision_id) REFERENCES revision (id),
  CONSTRAINT fk_application_stock_revision_id_revision FOREIGN KEY(stock_revision_id) REFERENCES revision (id),
  CONSTRAINT fk_application_approval_by_id_user_account FOREIGN KEY(approval_by_id) REFERENCES user_account (id)
);
COMMENT ON COLUMN application.approval IS 'status for road use';
COMMENT ON COLUMN application.approval_note IS 'certificate or market';
COMMENT ON COLUMN application.approval_by_id IS 'who stated it';
COMMENT ON COLUMN application.version IS 'counts changes; must match when saving';

CREATE TABLE sample (
  revision_id INTEGER NOT NULL,
  serial VARCHAR NOT NULL,
  place VARCHAR NOT NULL,
  state VARCHAR NOT NULL,
  note VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_sample PRIMARY KEY (id),
  CONSTRAINT uq_sample_revision_id UNIQUE (revision_id, serial),
  CONSTRAINT fk_sample_revision_id_revision FOREIGN KEY(revision_id) REFERENCES revision (id)
);
COMMENT ON COLUMN sample.place IS 'where it lies';
COMMENT ON COLUMN sample.version IS 'counts changes; must match when saving';

CREATE TABLE dyno_scatter (
  dyno_id INTEGER NOT NULL,
  from_day DATE NOT NULL,
  key VARCHAR NOT NULL,
  pull DOUBLE PRECISION NOT NULL,
  pull_df DOUBLE PRECISION NOT NULL,
  fitting DOUBLE PRECISION,
  fitting_df DOUBLE PRECISION NOT NULL,
  day DOUBLE PRECISION,
  day_df DOUBLE PRECISION NOT NULL,
  working JSONB NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_dyno_scatter PRIMARY KEY (id),
  CONSTRAINT fk_dyno_scatter_dyno_id_dyno FOREIGN KEY(dyno_id) REFERENCES dyno (id)
);
CREATE INDEX ix_dyno_scatter_dyno_id ON dyno_scatter (dyno_id);
COMMENT ON COLUMN dyno_scatter.key IS 'hash of the pulls it was fitted to';
COMMENT ON COLUMN dyno_scatter.pull IS 'N m, standard deviation from pull to pull';
COMMENT ON COLUMN dyno_scatter.fitting IS 'N m, from set to set (part off and on again); None: not known';
COMMENT ON COLUMN dyno_scatter.day IS 'N m, from day to day; None: not known';
COMMENT ON COLUMN dyno_scatter.working IS 'what it was fitted to';

CREATE TABLE element (
  application_id INTEGER NOT NULL,
  position INTEGER NOT NULL,
  belongs_to VARCHAR NOT NULL,
  side VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  name VARCHAR NOT NULL,
  length DOUBLE PRECISION NOT NULL,
  branches INTEGER NOT NULL,
  shape VARCHAR NOT NULL,
  given_as VARCHAR NOT NULL,
  diameter DOUBLE PRECISION,
  outside_diameter DOUBLE PRECISION,
  wall DOUBLE PRECISION,
  minor_outside DOUBLE PRECISION,
  width DOUBLE PRECISION,
  height DOUBLE PRECISION,
  corner_radius DOUBLE PRECISION,
  outline JSONB,
  exit_diameter DOUBLE PRECISION,
  wall_surface VARCHAR NOT NULL,
  bend_angle DOUBLE PRECISION,
  bend_radius DOUBLE PRECISION,
  mouth_radius DOUBLE PRECISION,
  burr DOUBLE PRECISION,
  proud DOUBLE PRECISION,
  loss_drop DOUBLE PRECISION,
  loss_flow DOUBLE PRECISION,
  open_share DOUBLE PRECISION,
  pressure_ratio DOUBLE PRECISION,
  outlet_temperature DOUBLE PRECISION,
  volume DOUBLE PRECISION,
  stack_height DOUBLE PRECISION,
  stack_outside DOUBLE PRECISION,
  spacer_area DOUBLE PRECISION,
  spacer_height DOUBLE PRECISION,
  tool VARCHAR NOT NULL,
  precision DOUBLE PRECISION,
  volume_precision DOUBLE PRECISION,
  provenance VARCHAR NOT NULL,
  nominal_sizes JSONB NOT NULL,
  out_reason VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_element PRIMARY KEY (id),
  CONSTRAINT ck_element_side CHECK (side in ('intake', 'engine', 'exhaust')),
  CONSTRAINT ck_element_shape CHECK (shape in ('round', 'oval', 'squashed', 'rounded_rectangle', 'd', 'outline')),
  CONSTRAINT ck_element_given_as CHECK (given_as in ('inside', 'outside')),
  CONSTRAINT ck_element_wall_surface CHECK (wall_surface in ('drawn', 'cast', 'smooth')),
  CONSTRAINT ck_element_length CHECK (length > 0 and branches > 0),
  CONSTRAINT ck_element_provenance CHECK (provenance in ('measured', 'nominal')),
  CONSTRAINT ck_element_loss CHECK ((loss_drop is null) = (loss_flow is null)),
  CONSTRAINT ck_element_open_share CHECK (open_share > 0 and open_share <= 1),
  CONSTRAINT fk_element_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
CREATE INDEX ix_element_application_id ON element (application_id);
COMMENT ON COLUMN element.position IS 'order from the mouth';
COMMENT ON COLUMN element.belongs_to IS 'letter of a variant, or both';
COMMENT ON COLUMN element.kind IS 'filter, tube, plenum, runner, primary …';
COMMENT ON COLUMN element.length IS 'm, along the flow';
COMMENT ON COLUMN element.branches IS 'how many equal ones lie beside each other';
COMMENT ON COLUMN element.given_as IS 'of a round tube: inside, or outside and wall';
COMMENT ON COLUMN element.diameter IS 'm, inside, at entry';
COMMENT ON COLUMN element.outside_diameter IS 'm, before squashing';
COMMENT ON COLUMN element.wall IS 'm, thickness';
COMMENT ON COLUMN element.minor_outside IS 'm, outside height after squashing';
COMMENT ON COLUMN element.width IS 'm, inside';
COMMENT ON COLUMN element.height IS 'm, inside';
COMMENT ON COLUMN element.corner_radius IS 'm';
COMMENT ON COLUMN element.outline IS 'm, pairs of x and y';
COMMENT ON COLUMN element.exit_diameter IS 'm, equal-area inside diameter at exit, where it differs';
COMMENT ON COLUMN element.wall_surface IS 'drawn, cast or smooth';
COMMENT ON COLUMN element.bend_angle IS 'rad';
COMMENT ON COLUMN element.bend_radius IS 'm, of the centre line; none for a mitre';
COMMENT ON COLUMN element.mouth_radius IS 'm, of the edge at entry';
COMMENT ON COLUMN element.burr IS 'm, left standing inside at entry';
COMMENT ON COLUMN element.proud IS 'm, gasket standing into the flow at entry';
COMMENT ON COLUMN element.loss_drop IS 'Pa, measured across it';
COMMENT ON COLUMN element.loss_flow IS 'm3/s, at which it was measured';
COMMENT ON COLUMN element.open_share IS 'share of its section that a flap or plate leaves open';
COMMENT ON COLUMN element.pressure_ratio IS 'of a compressor or turbine';
COMMENT ON COLUMN element.outlet_temperature IS 'K, measured after it';
COMMENT ON COLUMN element.volume IS 'm3, for plenums and boxes, without what sticks in';
COMMENT ON COLUMN element.stack_height IS 'm, how far the runners stick into it';
COMMENT ON COLUMN element.stack_outside IS 'm, outside diameter of what sticks in';
COMMENT ON COLUMN element.spacer_area IS 'm2, inside area of a plenum spacer';
COMMENT ON COLUMN element.spacer_height IS 'm';
COMMENT ON COLUMN element.precision IS 'm, ± of the tool';
COMMENT ON COLUMN element.volume_precision IS 'm3, ± of the volume';
COMMENT ON COLUMN element.nominal_sizes IS 'names of sizes that are nominal or remembered';
COMMENT ON COLUMN element.out_reason IS 'why it is not part of the path any more; empty: it is';
COMMENT ON COLUMN element.version IS 'counts changes; must match when saving';

CREATE TABLE bench_session (
  application_id INTEGER NOT NULL,
  bench_id INTEGER NOT NULL,
  held_on DATE NOT NULL,
  test_pressure DOUBLE PRECISION NOT NULL,
  temperature DOUBLE PRECISION NOT NULL,
  pressure DOUBLE PRECISION NOT NULL,
  humidity DOUBLE PRECISION NOT NULL,
  meter_temperature DOUBLE PRECISION,
  leak_range_id INTEGER,
  leak_percent DOUBLE PRECISION,
  leak_flow DOUBLE PRECISION,
  leak_pressure DOUBLE PRECISION,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_bench_session PRIMARY KEY (id),
  CONSTRAINT fk_bench_session_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_bench_session_bench_id_bench FOREIGN KEY(bench_id) REFERENCES bench (id),
  CONSTRAINT fk_bench_session_leak_range_id_bench_range FOREIGN KEY(leak_range_id) REFERENCES bench_range (id)
);
CREATE INDEX ix_bench_session_application_id ON bench_session (application_id);
COMMENT ON COLUMN bench_session.test_pressure IS 'Pa';
COMMENT ON COLUMN bench_session.temperature IS 'K';
COMMENT ON COLUMN bench_session.pressure IS 'Pa, station';
COMMENT ON COLUMN bench_session.humidity IS 'share of one';
COMMENT ON COLUMN bench_session.meter_temperature IS 'K, air before the meter';
COMMENT ON COLUMN bench_session.leak_percent IS 'share of one';
COMMENT ON COLUMN bench_session.leak_flow IS 'm3/s, where it was read as a flow';
COMMENT ON COLUMN bench_session.leak_pressure IS 'Pa';
COMMENT ON COLUMN bench_session.version IS 'counts changes; must match when saving';

CREATE TABLE fixture (
  application_id INTEGER NOT NULL,
  direction VARCHAR NOT NULL,
  port VARCHAR NOT NULL,
  mouth VARCHAR NOT NULL,
  outlet VARCHAR NOT NULL,
  bore DOUBLE PRECISION,
  valves INTEGER,
  valve_diameter DOUBLE PRECISION,
  throat_diameter DOUBLE PRECISION,
  stem_diameter DOUBLE PRECISION,
  note VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_fixture PRIMARY KEY (id),
  CONSTRAINT ck_fixture_direction CHECK (direction in ('intake', 'exhaust')),
  CONSTRAINT ck_fixture_valves CHECK (valves is null or valves > 0),
  CONSTRAINT fk_fixture_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
CREATE INDEX ix_fixture_application_id ON fixture (application_id);
COMMENT ON COLUMN fixture.port IS 'which port or runner';
COMMENT ON COLUMN fixture.mouth IS 'radius plate, clay, bellmouth, nothing …';
COMMENT ON COLUMN fixture.outlet IS 'pipe stub … or nothing';
COMMENT ON COLUMN fixture.bore IS 'm, bore adapter';
COMMENT ON COLUMN fixture.valve_diameter IS 'm, head';
COMMENT ON COLUMN fixture.throat_diameter IS 'm';
COMMENT ON COLUMN fixture.stem_diameter IS 'm';
COMMENT ON COLUMN fixture.version IS 'counts changes; must match when saving';

CREATE TABLE variant (
  application_id INTEGER NOT NULL,
  letter VARCHAR NOT NULL,
  name VARCHAR NOT NULL,
  build_title VARCHAR NOT NULL,
  tune_id INTEGER,
  control_mode VARCHAR NOT NULL,
  rounds INTEGER NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_variant PRIMARY KEY (id),
  CONSTRAINT uq_variant_application_id UNIQUE (application_id, letter),
  CONSTRAINT ck_variant_letter CHECK (letter ~ '^[A-Z]{1,2}$'),
  CONSTRAINT fk_variant_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_variant_tune_id_tune_file FOREIGN KEY(tune_id) REFERENCES tune_file (id)
);
CREATE INDEX ix_variant_application_id ON variant (application_id);
COMMENT ON COLUMN variant.name IS 'how it is called beside its parts';
COMMENT ON COLUMN variant.build_title IS 'title of its build sheet';
COMMENT ON COLUMN variant.control_mode IS 'setting of the boost controller, in words';
COMMENT ON COLUMN variant.rounds IS 'tuning rounds it was given';
COMMENT ON COLUMN variant.version IS 'counts changes; must match when saving';

CREATE TABLE test_card (
  application_id INTEGER NOT NULL,
  follows_id INTEGER,
  number INTEGER NOT NULL,
  dyno_id INTEGER NOT NULL,
  design VARCHAR NOT NULL,
  sets JSONB NOT NULL,
  factors JSONB NOT NULL,
  held VARCHAR NOT NULL,
  also_changed VARCHAR NOT NULL,
  tune_mode VARCHAR NOT NULL,
  control_mode VARCHAR NOT NULL,
  pulls_per_set INTEGER NOT NULL,
  effect_wanted DOUBLE PRECISION NOT NULL,
  no_matter DOUBLE PRECISION NOT NULL,
  mixture_target DOUBLE PRECISION,
  mixture_tolerance DOUBLE PRECISION NOT NULL,
  limits JSONB NOT NULL,
  "window" JSONB NOT NULL,
  times JSONB NOT NULL,
  brings JSONB NOT NULL,
  consumables VARCHAR NOT NULL,
  checklist JSONB NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_test_card PRIMARY KEY (id),
  CONSTRAINT ck_test_card_pulls_per_set CHECK (pulls_per_set between 2 and 12),
  CONSTRAINT ck_test_card_no_matter CHECK (no_matter between 0.001 and 0.03),
  CONSTRAINT ck_test_card_design CHECK (design in ('alternation', 'ladder', 'factorial', 'series', 'tuning')),
  CONSTRAINT ck_test_card_tune_mode CHECK (tune_mode in ('', 'one tune', 'same mixture', 'out of the box')),
  CONSTRAINT ck_test_card_control_mode CHECK (control_mode in ('', 'boost free', 'equal boost', 'equal back pressure')),
  CONSTRAINT fk_test_card_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_test_card_follows_id_test_card FOREIGN KEY(follows_id) REFERENCES test_card (id),
  CONSTRAINT fk_test_card_dyno_id_dyno FOREIGN KEY(dyno_id) REFERENCES dyno (id)
);
CREATE INDEX ix_test_card_application_id ON test_card (application_id);
COMMENT ON COLUMN test_card.follows_id IS 'the card it is the next version of';
COMMENT ON COLUMN test_card.number IS 'its version in the dossier, from 1';
COMMENT ON COLUMN test_card.sets IS 'letter and number of pulls of each set, in order';
COMMENT ON COLUMN test_card.factors IS 'name, minutes, levels of each factor';
COMMENT ON COLUMN test_card.held IS 'what is kept the same';
COMMENT ON COLUMN test_card.also_changed IS 'what else differs between the variants, or ''nothing''';
COMMENT ON COLUMN test_card.effect_wanted IS 'N m, smallest gain worth finding';
COMMENT ON COLUMN test_card.no_matter IS 'share of A below which a difference does not matter';
COMMENT ON COLUMN test_card.mixture_target IS 'lambda';
COMMENT ON COLUMN test_card.mixture_tolerance IS 'lambda';
COMMENT ON COLUMN test_card.limits IS 'where the operator stops, SI or words by name';
COMMENT ON COLUMN test_card."window" IS 'temperatures [K] at the start of each pull, by name';
COMMENT ON COLUMN test_card.times IS 'minutes of a pull, cool-down, swap …; margin [1]';
COMMENT ON COLUMN test_card.brings IS 'who, what';
COMMENT ON COLUMN test_card.consumables IS 'gaskets and fluids, with torque values to look up';
COMMENT ON COLUMN test_card.checklist IS 'lines to tick before the first pull';
COMMENT ON COLUMN test_card.version IS 'counts changes; must match when saving';

CREATE TABLE claim (
  application_id INTEGER NOT NULL,
  slug VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  session_ids JSONB NOT NULL,
  sources JSONB NOT NULL,
  lines JSONB NOT NULL,
  joined BOOLEAN NOT NULL,
  description VARCHAR NOT NULL,
  evidence_key VARCHAR NOT NULL,
  typed JSONB,
  id SERIAL NOT NULL,
  CONSTRAINT pk_claim PRIMARY KEY (id),
  CONSTRAINT fk_claim_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT uq_claim_slug UNIQUE (slug)
);
CREATE INDEX ix_claim_application_id ON claim (application_id);
COMMENT ON COLUMN claim.slug IS 'stable public address';
COMMENT ON COLUMN claim.kind IS 'kind of statement';
COMMENT ON COLUMN claim.session_ids IS 'dyno sessions it rests on';
COMMENT ON COLUMN claim.sources IS 'what else it rests on, by name: school, bench session, trial, miles and price';
COMMENT ON COLUMN claim.lines IS 'facts in their order: fact, phrasing, short';
COMMENT ON COLUMN claim.joined IS 'one sentence instead of several';
COMMENT ON COLUMN claim.description IS 'of the part; not a measured statement';
COMMENT ON COLUMN claim.evidence_key IS 'identifies the evidence the facts were chosen on';
COMMENT ON COLUMN claim.typed IS 'words typed before statements were made of facts';

CREATE TABLE face (
  application_id INTEGER NOT NULL,
  name VARCHAR NOT NULL,
  belongs_to VARCHAR NOT NULL,
  shape VARCHAR NOT NULL,
  sizes JSONB NOT NULL,
  outline JSONB NOT NULL,
  came_from VARCHAR NOT NULL,
  wall DOUBLE PRECISION,
  wall_limit DOUBLE PRECISION NOT NULL,
  tool VARCHAR NOT NULL,
  precision DOUBLE PRECISION,
  provenance VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_face PRIMARY KEY (id),
  CONSTRAINT ck_face_provenance CHECK (provenance in ('measured', 'nominal')),
  CONSTRAINT fk_face_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
CREATE INDEX ix_face_application_id ON face (application_id);
COMMENT ON COLUMN face.sizes IS 'm, sizes it was made from; empty for a traced outline';
COMMENT ON COLUMN face.outline IS 'm, pairs of x and y, centred on nought, y up';
COMMENT ON COLUMN face.came_from IS 'file or photo it was taken from';
COMMENT ON COLUMN face.wall IS 'm, least wall around it';
COMMENT ON COLUMN face.wall_limit IS 'm, wall that must stay';
COMMENT ON COLUMN face.precision IS 'm';
COMMENT ON COLUMN face.version IS 'counts changes; must match when saving';

CREATE TABLE fit (
  application_id INTEGER NOT NULL,
  minutes DOUBLE PRECISION,
  minutes_from VARCHAR NOT NULL,
  drained VARCHAR NOT NULL,
  removed VARCHAR NOT NULL,
  wall DOUBLE PRECISION,
  wall_limit DOUBLE PRECISION,
  done JSONB NOT NULL,
  note VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_fit PRIMARY KEY (id),
  CONSTRAINT ck_fit_minutes CHECK (minutes is null or minutes > 0),
  CONSTRAINT uq_fit_application_id UNIQUE (application_id),
  CONSTRAINT fk_fit_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
COMMENT ON COLUMN fit.minutes IS 's, service time to fit it';
COMMENT ON COLUMN fit.minutes_from IS 'who timed it, on what';
COMMENT ON COLUMN fit.wall IS 'm, least wall left on the part';
COMMENT ON COLUMN fit.wall_limit IS 'm, wall that must stay';
COMMENT ON COLUMN fit.done IS 'keys of the checklist';
COMMENT ON COLUMN fit.version IS 'counts changes; must match when saving';

CREATE TABLE fit_spot (
  application_id INTEGER NOT NULL,
  place VARCHAR NOT NULL,
  gap DOUBLE PRECISION,
  state VARCHAR NOT NULL,
  note VARCHAR NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_fit_spot PRIMARY KEY (id),
  CONSTRAINT ck_fit_spot_state CHECK (state in ('clear', 'close', 'touches')),
  CONSTRAINT fk_fit_spot_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_fit_spot_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_fit_spot_application_id ON fit_spot (application_id);
COMMENT ON COLUMN fit_spot.gap IS 'm';

CREATE TABLE wheel_sheet (
  application_id INTEGER NOT NULL,
  label VARCHAR NOT NULL,
  title VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  held_on DATE NOT NULL,
  readings JSONB NOT NULL,
  totals JSONB NOT NULL,
  tares JSONB NOT NULL,
  "window" JSONB NOT NULL,
  stop_before DOUBLE PRECISION,
  stop_after DOUBLE PRECISION,
  checking_lift DOUBLE PRECISION,
  says VARCHAR NOT NULL,
  note VARCHAR NOT NULL,
  supersedes_id INTEGER,
  why VARCHAR NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_wheel_sheet PRIMARY KEY (id),
  CONSTRAINT ck_wheel_sheet_kind CHECK (kind in ('poppet', 'disc', 'piston', 'rotary')),
  CONSTRAINT fk_wheel_sheet_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_wheel_sheet_supersedes_id_wheel_sheet FOREIGN KEY(supersedes_id) REFERENCES wheel_sheet (id),
  CONSTRAINT fk_wheel_sheet_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_wheel_sheet_application_id ON wheel_sheet (application_id);
COMMENT ON COLUMN wheel_sheet.label IS 'letter of a variant, or nothing';
COMMENT ON COLUMN wheel_sheet.readings IS 'rad, as named on the wheel';
COMMENT ON COLUMN wheel_sheet.totals IS 'rad, noted totals by port';
COMMENT ON COLUMN wheel_sheet.tares IS 'rad, taken off for a worked port';
COMMENT ON COLUMN wheel_sheet."window" IS 'SI, sizes for the time-area';
COMMENT ON COLUMN wheel_sheet.stop_before IS 'rad, piston stop met before dead centre';
COMMENT ON COLUMN wheel_sheet.stop_after IS 'rad';
COMMENT ON COLUMN wheel_sheet.checking_lift IS 'm';
COMMENT ON COLUMN wheel_sheet.says IS 'what the maker calls it, and what is meant';
COMMENT ON COLUMN wheel_sheet.why IS 'why it was read again';

CREATE TABLE ladder_rung (
  application_id INTEGER NOT NULL,
  position INTEGER NOT NULL,
  name VARCHAR NOT NULL,
  values JSONB NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_ladder_rung PRIMARY KEY (id),
  CONSTRAINT fk_ladder_rung_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
CREATE INDEX ix_ladder_rung_application_id ON ladder_rung (application_id);
COMMENT ON COLUMN ladder_rung.values IS 'column → {value: SI or words, grade}';
COMMENT ON COLUMN ladder_rung.version IS 'counts changes; must match when saving';

CREATE TABLE work_task (
  kind VARCHAR NOT NULL,
  key VARCHAR NOT NULL,
  inputs JSONB NOT NULL,
  title VARCHAR NOT NULL,
  application_id INTEGER,
  state VARCHAR NOT NULL,
  share DOUBLE PRECISION NOT NULL,
  told VARCHAR NOT NULL,
  stop_asked BOOLEAN NOT NULL,
  tries INTEGER NOT NULL,
  result JSONB,
  asked_by_id INTEGER,
  asked_at TIMESTAMP WITH TIME ZONE NOT NULL,
  begun_at TIMESTAMP WITH TIME ZONE,
  ended_at TIMESTAMP WITH TIME ZONE,
  id SERIAL NOT NULL,
  CONSTRAINT pk_work_task PRIMARY KEY (id),
  CONSTRAINT uq_work_task_kind UNIQUE (kind, key),
  CONSTRAINT ck_work_task_state CHECK (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
  CONSTRAINT fk_work_task_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_work_task_asked_by_id_user_account FOREIGN KEY(asked_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_work_task_application_id ON work_task (application_id);
COMMENT ON COLUMN work_task.key IS 'hash of everything that goes in';
COMMENT ON COLUMN work_task.share IS 'how much is done, 0 to 1';
COMMENT ON COLUMN work_task.told IS 'what it does just now, or why it failed';

CREATE TABLE traverse (
  application_id INTEGER NOT NULL,
  title VARCHAR NOT NULL,
  held_on DATE NOT NULL,
  lift DOUBLE PRECISION NOT NULL,
  test_pressure DOUBLE PRECISION NOT NULL,
  temperature DOUBLE PRECISION NOT NULL,
  pressure DOUBLE PRECISION NOT NULL,
  shape VARCHAR NOT NULL,
  outline JSONB NOT NULL,
  columns INTEGER NOT NULL,
  rows INTEGER NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_traverse PRIMARY KEY (id),
  CONSTRAINT ck_traverse_shape CHECK (shape in ('round', 'rounded_rectangle', 'outline')),
  CONSTRAINT ck_traverse_grid CHECK (columns between 1 and 15 and rows between 1 and 15),
  CONSTRAINT fk_traverse_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
CREATE INDEX ix_traverse_application_id ON traverse (application_id);
COMMENT ON COLUMN traverse.lift IS 'm';
COMMENT ON COLUMN traverse.test_pressure IS 'Pa';
COMMENT ON COLUMN traverse.temperature IS 'K';
COMMENT ON COLUMN traverse.pressure IS 'Pa, station';
COMMENT ON COLUMN traverse.outline IS 'm, pairs of x and y, centred on nought';
COMMENT ON COLUMN traverse.version IS 'counts changes; must match when saving';

CREATE TABLE porting_job (
  application_id INTEGER NOT NULL,
  name VARCHAR NOT NULL,
  lift DOUBLE PRECISION NOT NULL,
  test_pressure DOUBLE PRECISION NOT NULL,
  start_flow DOUBLE PRECISION NOT NULL,
  target_flow DOUBLE PRECISION NOT NULL,
  flow_uncertainty DOUBLE PRECISION NOT NULL,
  hours_allowed DOUBLE PRECISION NOT NULL,
  wall_limit DOUBLE PRECISION NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_porting_job PRIMARY KEY (id),
  CONSTRAINT ck_porting_job_target CHECK (target_flow > start_flow and start_flow > 0),
  CONSTRAINT ck_porting_job_limits CHECK (hours_allowed > 0 and wall_limit >= 0),
  CONSTRAINT fk_porting_job_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
CREATE INDEX ix_porting_job_application_id ON porting_job (application_id);
COMMENT ON COLUMN porting_job.lift IS 'm, at which flow is judged';
COMMENT ON COLUMN porting_job.test_pressure IS 'Pa';
COMMENT ON COLUMN porting_job.start_flow IS 'm3/s, before the first bout';
COMMENT ON COLUMN porting_job.target_flow IS 'm3/s';
COMMENT ON COLUMN porting_job.flow_uncertainty IS 'm3/s, expanded, of one flow here';
COMMENT ON COLUMN porting_job.hours_allowed IS 's';
COMMENT ON COLUMN porting_job.wall_limit IS 'm, wall that must stay';
COMMENT ON COLUMN porting_job.version IS 'counts changes; must match when saving';

CREATE TABLE kept_answer (
  application_id INTEGER NOT NULL,
  question VARCHAR NOT NULL,
  asked VARCHAR NOT NULL,
  inputs JSONB NOT NULL,
  figures JSONB NOT NULL,
  judgement VARCHAR NOT NULL,
  note VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_kept_answer PRIMARY KEY (id),
  CONSTRAINT fk_kept_answer_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_kept_answer_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_kept_answer_application_question ON kept_answer (application_id, question);
COMMENT ON COLUMN kept_answer.question IS 'key of the question';
COMMENT ON COLUMN kept_answer.asked IS 'the question in words';
COMMENT ON COLUMN kept_answer.inputs IS 'name → {value: SI or words, rests, where}';
COMMENT ON COLUMN kept_answer.figures IS 'figures with their working';

CREATE TABLE target (
  application_id INTEGER NOT NULL,
  limits JSONB NOT NULL,
  why VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_target PRIMARY KEY (id),
  CONSTRAINT uq_target_application_id UNIQUE (application_id),
  CONSTRAINT fk_target_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
COMMENT ON COLUMN target.limits IS 'SI values by name';
COMMENT ON COLUMN target.why IS 'for whom, and why these';
COMMENT ON COLUMN target.version IS 'counts changes; must match when saving';

CREATE TABLE candidate_part (
  application_id INTEGER NOT NULL,
  position INTEGER NOT NULL,
  name VARCHAR NOT NULL,
  family VARCHAR NOT NULL,
  revision_id INTEGER,
  values JSONB NOT NULL,
  out_reason VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_candidate_part PRIMARY KEY (id),
  CONSTRAINT fk_candidate_part_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_candidate_part_revision_id_revision FOREIGN KEY(revision_id) REFERENCES revision (id)
);
CREATE INDEX ix_candidate_part_application_id ON candidate_part (application_id);
COMMENT ON COLUMN candidate_part.name IS 'what it is called where it is no revision of the library';
COMMENT ON COLUMN candidate_part.family IS 'which columns it has';
COMMENT ON COLUMN candidate_part.values IS 'column → {value: SI or words, rests, where}';
COMMENT ON COLUMN candidate_part.out_reason IS 'why it is no candidate any more; empty: it is one';
COMMENT ON COLUMN candidate_part.version IS 'counts changes; must match when saving';

CREATE TABLE build_sheet (
  application_id INTEGER NOT NULL,
  title VARCHAR NOT NULL,
  number INTEGER NOT NULL,
  label VARCHAR NOT NULL,
  held_on DATE NOT NULL,
  values JSONB NOT NULL,
  why VARCHAR NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_build_sheet PRIMARY KEY (id),
  CONSTRAINT uq_build_sheet_application_id UNIQUE (application_id, title, number),
  CONSTRAINT fk_build_sheet_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_build_sheet_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_build_sheet_application_id ON build_sheet (application_id);
COMMENT ON COLUMN build_sheet.number IS 'version of the sheet of this title';
COMMENT ON COLUMN build_sheet.label IS 'letter of a variant, or nothing';
COMMENT ON COLUMN build_sheet.values IS 'line → words';
COMMENT ON COLUMN build_sheet.why IS 'what changed since the version before';

CREATE TABLE attachment (
  application_id INTEGER NOT NULL,
  record_kind VARCHAR NOT NULL,
  record_id INTEGER NOT NULL,
  filename VARCHAR NOT NULL,
  media_type VARCHAR NOT NULL,
  size INTEGER NOT NULL,
  sha256 VARCHAR NOT NULL,
  caption VARCHAR NOT NULL,
  width INTEGER,
  height INTEGER,
  data BYTEA,
  blob_id INTEGER,
  thumbnail BYTEA,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_attachment PRIMARY KEY (id),
  CONSTRAINT fk_attachment_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_attachment_blob_id_blob FOREIGN KEY(blob_id) REFERENCES blob (id),
  CONSTRAINT fk_attachment_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_attachment_record ON attachment (application_id, record_kind, record_id);
COMMENT ON COLUMN attachment.record_kind IS 'table of the record it hangs on';
COMMENT ON COLUMN attachment.size IS 'bytes';
COMMENT ON COLUMN attachment.width IS 'pixels, of a photo';
COMMENT ON COLUMN attachment.height IS 'pixels';
COMMENT ON COLUMN attachment.blob_id IS 'where it is too large for a row: a video';

CREATE TABLE certificate (
  application_id INTEGER NOT NULL,
  kind VARCHAR NOT NULL,
  number VARCHAR NOT NULL,
  market VARCHAR NOT NULL,
  first_year INTEGER NOT NULL,
  last_year INTEGER NOT NULL,
  until DATE,
  scope VARCHAR NOT NULL,
  forbids VARCHAR NOT NULL,
  document VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_certificate PRIMARY KEY (id),
  CONSTRAINT ck_certificate_kind CHECK (kind in ('emissions', 'noise')),
  CONSTRAINT ck_certificate_years CHECK (first_year <= last_year),
  CONSTRAINT fk_certificate_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_certificate_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_certificate_application_id ON certificate (application_id);
COMMENT ON COLUMN certificate.until IS 'last day it holds';
COMMENT ON COLUMN certificate.forbids IS 'what it forbids';
COMMENT ON COLUMN certificate.document IS 'where the document is';

CREATE TABLE covered_vehicle (
  application_id INTEGER NOT NULL,
  make VARCHAR NOT NULL,
  model VARCHAR NOT NULL,
  first_year INTEGER NOT NULL,
  last_year INTEGER NOT NULL,
  engine_code VARCHAR NOT NULL,
  covers VARCHAR NOT NULL,
  reason VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_covered_vehicle PRIMARY KEY (id),
  CONSTRAINT ck_covered_vehicle_covers CHECK (covers in ('direct', 'reasoned', 'not covered')),
  CONSTRAINT ck_covered_vehicle_years CHECK (first_year <= last_year),
  CONSTRAINT fk_covered_vehicle_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_covered_vehicle_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_covered_vehicle_application_id ON covered_vehicle (application_id);

CREATE TABLE sheet_note (
  application_id INTEGER NOT NULL,
  about VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_sheet_note PRIMARY KEY (id),
  CONSTRAINT fk_sheet_note_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_sheet_note_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_sheet_note_application_id ON sheet_note (application_id);

CREATE TABLE verdict (
  application_id INTEGER NOT NULL,
  evidence_key VARCHAR NOT NULL,
  session_ids JSONB NOT NULL,
  headline VARCHAR NOT NULL,
  bands JSONB NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_verdict PRIMARY KEY (id),
  CONSTRAINT uq_verdict_application_id UNIQUE (application_id),
  CONSTRAINT fk_verdict_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
COMMENT ON COLUMN verdict.evidence_key IS 'identifies the evidence it was made from';
COMMENT ON COLUMN verdict.session_ids IS 'the dyno sessions that count';
COMMENT ON COLUMN verdict.bands IS 'name, verdict, value, half_width, kind of each band; SI';

CREATE TABLE use_weights (
  application_id INTEGER NOT NULL,
  shares JSONB NOT NULL,
  origin VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_use_weights PRIMARY KEY (id),
  CONSTRAINT fk_use_weights_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_use_weights_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_use_weights_application_id ON use_weights (application_id);
COMMENT ON COLUMN use_weights.shares IS 'share of each band [1], by its name';
COMMENT ON COLUMN use_weights.origin IS 'where they come from, in words';

CREATE TABLE kit_sheet (
  application_id INTEGER NOT NULL,
  number INTEGER NOT NULL,
  priced_on DATE,
  values JSONB NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_kit_sheet PRIMARY KEY (id),
  CONSTRAINT uq_kit_sheet_application_id UNIQUE (application_id, number),
  CONSTRAINT fk_kit_sheet_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_kit_sheet_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_kit_sheet_application_id ON kit_sheet (application_id);
COMMENT ON COLUMN kit_sheet.number IS 'version, from 1';
COMMENT ON COLUMN kit_sheet.values IS 'prices in the money of the house, items, minutes, words, by name';

CREATE TABLE trial (
  application_id INTEGER NOT NULL,
  kind VARCHAR NOT NULL,
  title VARCHAR NOT NULL,
  held_on DATE NOT NULL,
  tool VARCHAR NOT NULL,
  origin VARCHAR NOT NULL,
  step DOUBLE PRECISION NOT NULL,
  conditions JSONB NOT NULL,
  rows JSONB NOT NULL,
  replaces_id INTEGER,
  why VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_trial PRIMARY KEY (id),
  CONSTRAINT ck_trial_kind CHECK (kind in ('fuel', 'temperature', 'noise', 'mass', 'track')),
  CONSTRAINT ck_trial_step CHECK (step >= 0),
  CONSTRAINT ck_trial_origin CHECK (origin in ('own', 'supplier', 'published', 'hearsay')),
  CONSTRAINT fk_trial_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT uq_trial_replaces_id UNIQUE (replaces_id),
  CONSTRAINT fk_trial_replaces_id_trial FOREIGN KEY(replaces_id) REFERENCES trial (id),
  CONSTRAINT fk_trial_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_trial_application_id ON trial (application_id);
COMMENT ON COLUMN trial.tool IS 'what it was read with';
COMMENT ON COLUMN trial.origin IS 'own test, or somebody else''s: that backs nothing';
COMMENT ON COLUMN trial.step IS 'SI, the tool''s own step';
COMMENT ON COLUMN trial.conditions IS 'words or SI figures by name';
COMMENT ON COLUMN trial.rows IS 'readings, SI, as the kind wants them';
COMMENT ON COLUMN trial.why IS 'why it takes the place of the earlier one';

CREATE TABLE selling_text (
  title VARCHAR NOT NULL,
  text VARCHAR NOT NULL,
  application_id INTEGER,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_selling_text PRIMARY KEY (id),
  CONSTRAINT fk_selling_text_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_selling_text_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
COMMENT ON COLUMN selling_text.application_id IS 'what all of it is about';

CREATE TABLE size_reading (
  element_id INTEGER NOT NULL,
  size VARCHAR NOT NULL,
  batch INTEGER NOT NULL,
  value DOUBLE PRECISION NOT NULL,
  place VARCHAR NOT NULL,
  tool VARCHAR NOT NULL,
  precision DOUBLE PRECISION NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_size_reading PRIMARY KEY (id),
  CONSTRAINT ck_size_reading_value CHECK (value > 0 and precision >= 0),
  CONSTRAINT fk_size_reading_element_id_element FOREIGN KEY(element_id) REFERENCES element (id),
  CONSTRAINT fk_size_reading_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_size_reading_element_id ON size_reading (element_id);
COMMENT ON COLUMN size_reading.size IS 'which size of the element';
COMMENT ON COLUMN size_reading.batch IS 'readings taken together; the newest batch counts';
COMMENT ON COLUMN size_reading.value IS 'm';
COMMENT ON COLUMN size_reading.place IS 'where it was taken, such as 60°';
COMMENT ON COLUMN size_reading.precision IS 'm, ± of the tool';

CREATE TABLE trace (
  session_id INTEGER NOT NULL,
  label VARCHAR NOT NULL,
  title VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  runner VARCHAR NOT NULL,
  stack VARCHAR NOT NULL,
  ladder JSONB NOT NULL,
  fixture_id INTEGER NOT NULL,
  section_id INTEGER,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_trace PRIMARY KEY (id),
  CONSTRAINT ck_trace_kind CHECK (kind in ('sweep', 'fixed')),
  CONSTRAINT fk_trace_session_id_bench_session FOREIGN KEY(session_id) REFERENCES bench_session (id),
  CONSTRAINT fk_trace_fixture_id_fixture FOREIGN KEY(fixture_id) REFERENCES fixture (id),
  CONSTRAINT fk_trace_section_id_element FOREIGN KEY(section_id) REFERENCES element (id)
);
CREATE INDEX ix_trace_session_id ON trace (session_id);
COMMENT ON COLUMN trace.kind IS 'sweep over lift, or a fixed part read once';
COMMENT ON COLUMN trace.runner IS 'which runner of a fixed part';
COMMENT ON COLUMN trace.stack IS 'pieces in flow order, joined by +';
COMMENT ON COLUMN trace.ladder IS 'planned lifts, m';
COMMENT ON COLUMN trace.version IS 'counts changes; must match when saving';

CREATE TABLE bench_sheet (
  session_id INTEGER NOT NULL,
  filename VARCHAR NOT NULL,
  content BYTEA NOT NULL,
  sha256 VARCHAR NOT NULL,
  received_at TIMESTAMP WITH TIME ZONE NOT NULL,
  received_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_bench_sheet PRIMARY KEY (id),
  CONSTRAINT fk_bench_sheet_session_id_bench_session FOREIGN KEY(session_id) REFERENCES bench_session (id),
  CONSTRAINT fk_bench_sheet_received_by_id_user_account FOREIGN KEY(received_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_bench_sheet_session_id ON bench_sheet (session_id);

CREATE TABLE variant_part (
  variant_id INTEGER NOT NULL,
  revision_id INTEGER NOT NULL,
  sample_id INTEGER,
  casting VARCHAR NOT NULL,
  finish VARCHAR NOT NULL,
  machining VARCHAR NOT NULL,
  coating VARCHAR NOT NULL,
  modified VARCHAR NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_variant_part PRIMARY KEY (id),
  CONSTRAINT fk_variant_part_variant_id_variant FOREIGN KEY(variant_id) REFERENCES variant (id),
  CONSTRAINT fk_variant_part_revision_id_revision FOREIGN KEY(revision_id) REFERENCES revision (id),
  CONSTRAINT fk_variant_part_sample_id_sample FOREIGN KEY(sample_id) REFERENCES sample (id)
);
CREATE INDEX ix_variant_part_variant_id ON variant_part (variant_id);
COMMENT ON COLUMN variant_part.sample_id IS 'which piece was fitted';
COMMENT ON COLUMN variant_part.modified IS 'epoxy, grinding, spacer, adapter, worn …';

CREATE TABLE card_variant (
  card_id INTEGER NOT NULL,
  variant_id INTEGER NOT NULL,
  letter VARCHAR NOT NULL,
  called VARCHAR NOT NULL,
  levels JSONB NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_card_variant PRIMARY KEY (id),
  CONSTRAINT uq_card_variant_card_id UNIQUE (card_id, letter),
  CONSTRAINT fk_card_variant_card_id_test_card FOREIGN KEY(card_id) REFERENCES test_card (id),
  CONSTRAINT fk_card_variant_variant_id_variant FOREIGN KEY(variant_id) REFERENCES variant (id)
);
CREATE INDEX ix_card_variant_card_id ON card_variant (card_id);
COMMENT ON COLUMN card_variant.called IS 'what it was, in words, when the card was written';
COMMENT ON COLUMN card_variant.levels IS 'its level of each factor, counted from 0';

CREATE TABLE card_pair (
  card_id INTEGER NOT NULL,
  application_id INTEGER NOT NULL,
  a VARCHAR NOT NULL,
  b VARCHAR NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_card_pair PRIMARY KEY (id),
  CONSTRAINT uq_card_pair_card_id UNIQUE (card_id, application_id),
  CONSTRAINT ck_card_pair_two CHECK (a <> b),
  CONSTRAINT fk_card_pair_card_id_test_card FOREIGN KEY(card_id) REFERENCES test_card (id),
  CONSTRAINT fk_card_pair_application_id_application FOREIGN KEY(application_id) REFERENCES application (id)
);
CREATE INDEX ix_card_pair_card_id ON card_pair (card_id);
CREATE INDEX ix_card_pair_application_id ON card_pair (application_id);
COMMENT ON COLUMN card_pair.a IS 'letter of the stock part';
COMMENT ON COLUMN card_pair.b IS 'letter of the product; empty: it is not compared';

CREATE TABLE card_tick (
  card_id INTEGER NOT NULL,
  line VARCHAR NOT NULL,
  note VARCHAR NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_card_tick PRIMARY KEY (id),
  CONSTRAINT uq_card_tick_card_id UNIQUE (card_id, line),
  CONSTRAINT fk_card_tick_card_id_test_card FOREIGN KEY(card_id) REFERENCES test_card (id),
  CONSTRAINT fk_card_tick_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_card_tick_card_id ON card_tick (card_id);
COMMENT ON COLUMN card_tick.note IS 'what was found';

CREATE TABLE dyno_session (
  application_id INTEGER NOT NULL,
  card_id INTEGER NOT NULL,
  held_on DATE NOT NULL,
  temperature DOUBLE PRECISION NOT NULL,
  pressure DOUBLE PRECISION NOT NULL,
  humidity DOUBLE PRECISION NOT NULL,
  standard VARCHAR NOT NULL,
  already_corrected BOOLEAN NOT NULL,
  gear VARCHAR NOT NULL,
  engine_id INTEGER,
  fuel_id INTEGER,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_dyno_session PRIMARY KEY (id),
  CONSTRAINT fk_dyno_session_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_dyno_session_card_id_test_card FOREIGN KEY(card_id) REFERENCES test_card (id),
  CONSTRAINT fk_dyno_session_engine_id_test_engine FOREIGN KEY(engine_id) REFERENCES test_engine (id),
  CONSTRAINT fk_dyno_session_fuel_id_fuel_batch FOREIGN KEY(fuel_id) REFERENCES fuel_batch (id)
);
CREATE INDEX ix_dyno_session_application_id ON dyno_session (application_id);
COMMENT ON COLUMN dyno_session.temperature IS 'K';
COMMENT ON COLUMN dyno_session.pressure IS 'Pa, station';
COMMENT ON COLUMN dyno_session.humidity IS 'share of one';
COMMENT ON COLUMN dyno_session.already_corrected IS 'the files carry corrected figures';
COMMENT ON COLUMN dyno_session.engine_id IS 'test engine, where it was one';
COMMENT ON COLUMN dyno_session.version IS 'counts changes; must match when saving';

CREATE TABLE claim_act (
  claim_id INTEGER NOT NULL,
  number INTEGER NOT NULL,
  act VARCHAR NOT NULL,
  by_id INTEGER,
  at TIMESTAMP WITH TIME ZONE NOT NULL,
  reason VARCHAR NOT NULL,
  due_on DATE,
  id SERIAL NOT NULL,
  CONSTRAINT pk_claim_act PRIMARY KEY (id),
  CONSTRAINT uq_claim_act_claim_id UNIQUE (claim_id, number),
  CONSTRAINT ck_claim_act_act CHECK (act in ('drafted', 'changed', 'submitted', 'returned', 'published', 'questioned', 'restored', 'withdrawn', 'superseded')),
  CONSTRAINT fk_claim_act_claim_id_claim FOREIGN KEY(claim_id) REFERENCES claim (id),
  CONSTRAINT fk_claim_act_by_id_user_account FOREIGN KEY(by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_claim_act_claim_id ON claim_act (claim_id);
COMMENT ON COLUMN claim_act.by_id IS 'none: Long Breath itself';
COMMENT ON COLUMN claim_act.due_on IS 'the day on which a questioned claim is withdrawn by itself';

CREATE TABLE claim_sheet (
  claim_id INTEGER NOT NULL,
  shape INTEGER NOT NULL,
  snapshot JSONB NOT NULL,
  evidence_key VARCHAR NOT NULL,
  version_read INTEGER NOT NULL,
  read VARCHAR NOT NULL,
  approved_by_id INTEGER NOT NULL,
  published_at TIMESTAMP WITH TIME ZONE NOT NULL,
  rests_on JSONB NOT NULL,
  retest_on DATE,
  id SERIAL NOT NULL,
  CONSTRAINT pk_claim_sheet PRIMARY KEY (id),
  CONSTRAINT uq_claim_sheet_claim_id UNIQUE (claim_id),
  CONSTRAINT fk_claim_sheet_claim_id_claim FOREIGN KEY(claim_id) REFERENCES claim (id),
  CONSTRAINT fk_claim_sheet_approved_by_id_user_account FOREIGN KEY(approved_by_id) REFERENCES user_account (id)
);
COMMENT ON COLUMN claim_sheet.shape IS 'version of the snapshot''s shape: 1 typed words, 2 facts';
COMMENT ON COLUMN claim_sheet.snapshot IS 'all that the sheet shows';
COMMENT ON COLUMN claim_sheet.evidence_key IS 'identifies the evidence it was published on';
COMMENT ON COLUMN claim_sheet.version_read IS 'number of the act that its approver had read';
COMMENT ON COLUMN claim_sheet.read IS 'digest of what the approver read';
COMMENT ON COLUMN claim_sheet.rests_on IS 'digest of each thing it rests on, by name, so that what changed can be named';
COMMENT ON COLUMN claim_sheet.retest_on IS 'the day from which the house wants it tested again';

CREATE TABLE fact_comment (
  claim_id INTEGER NOT NULL,
  fact VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  at TIMESTAMP WITH TIME ZONE NOT NULL,
  by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_fact_comment PRIMARY KEY (id),
  CONSTRAINT fk_fact_comment_claim_id_claim FOREIGN KEY(claim_id) REFERENCES claim (id),
  CONSTRAINT fk_fact_comment_by_id_user_account FOREIGN KEY(by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_fact_comment_claim_id ON fact_comment (claim_id);
COMMENT ON COLUMN fact_comment.fact IS 'key of the fact; empty: the whole statement';

CREATE TABLE face_lay (
  application_id INTEGER NOT NULL,
  upstream_id INTEGER NOT NULL,
  downstream_id INTEGER NOT NULL,
  "right" DOUBLE PRECISION NOT NULL,
  up DOUBLE PRECISION NOT NULL,
  turn DOUBLE PRECISION NOT NULL,
  overlap DOUBLE PRECISION NOT NULL,
  worst DOUBLE PRECISION NOT NULL,
  judgement VARCHAR NOT NULL,
  note VARCHAR NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_face_lay PRIMARY KEY (id),
  CONSTRAINT fk_face_lay_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_face_lay_upstream_id_face FOREIGN KEY(upstream_id) REFERENCES face (id),
  CONSTRAINT fk_face_lay_downstream_id_face FOREIGN KEY(downstream_id) REFERENCES face (id),
  CONSTRAINT fk_face_lay_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_face_lay_application_id ON face_lay (application_id);
COMMENT ON COLUMN face_lay."right" IS 'm';
COMMENT ON COLUMN face_lay.up IS 'm';
COMMENT ON COLUMN face_lay.turn IS 'rad';
COMMENT ON COLUMN face_lay.overlap IS 'm2, shared area as judged';
COMMENT ON COLUMN face_lay.worst IS 'm, largest lip against the flow as judged';

CREATE TABLE owed (
  application_id INTEGER,
  card_id INTEGER,
  kind VARCHAR NOT NULL,
  what VARCHAR NOT NULL,
  who_id INTEGER,
  outside VARCHAR NOT NULL,
  due_on DATE,
  not_before DATE,
  hours DOUBLE PRECISION NOT NULL,
  cost DOUBLE PRECISION NOT NULL,
  cell_id INTEGER,
  slot TIMESTAMP WITH TIME ZONE,
  blocks VARCHAR NOT NULL,
  raised_by VARCHAR NOT NULL,
  raised_at TIMESTAMP WITH TIME ZONE NOT NULL,
  raised_by_id INTEGER,
  closed_at TIMESTAMP WITH TIME ZONE,
  closed_by_id INTEGER,
  closed_with VARCHAR NOT NULL,
  version INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_owed PRIMARY KEY (id),
  CONSTRAINT ck_owed_kind CHECK (kind in ('measurement', 'figure', 'part', 'sample', 'slot', 'tune', 'certificate', 'person', 'retest', 'bench', 'swap', 'dyno', 'reason', 'weighing', 'approval', 'publishing', 'other')),
  CONSTRAINT ck_owed_amounts CHECK (hours >= 0 and cost >= 0),
  CONSTRAINT fk_owed_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_owed_card_id_test_card FOREIGN KEY(card_id) REFERENCES test_card (id),
  CONSTRAINT fk_owed_who_id_user_account FOREIGN KEY(who_id) REFERENCES user_account (id),
  CONSTRAINT fk_owed_cell_id_cell FOREIGN KEY(cell_id) REFERENCES cell (id),
  CONSTRAINT fk_owed_raised_by_id_user_account FOREIGN KEY(raised_by_id) REFERENCES user_account (id),
  CONSTRAINT fk_owed_closed_by_id_user_account FOREIGN KEY(closed_by_id) REFERENCES user_account (id)
);
CREATE UNIQUE INDEX ix_owed_raised ON owed (raised_by) WHERE raised_by <> '';
CREATE INDEX ix_owed_open ON owed (application_id) WHERE closed_at is null;
COMMENT ON COLUMN owed.application_id IS 'None: of the house';
COMMENT ON COLUMN owed.outside IS 'who owes it outside the house';
COMMENT ON COLUMN owed.not_before IS 'a part''s day of arrival, say';
COMMENT ON COLUMN owed.hours IS 'h of work';
COMMENT ON COLUMN owed.cost IS 'money of the house, beside hours and cell';
COMMENT ON COLUMN owed.slot IS 'booked beginning';
COMMENT ON COLUMN owed.blocks IS 'what waits for it, in words';
COMMENT ON COLUMN owed.raised_by IS 'what the software raised it for; empty: written by hand';
COMMENT ON COLUMN owed.closed_with IS 'what closed it';
COMMENT ON COLUMN owed.version IS 'counts changes; must match when saving';

CREATE TABLE traverse_point (
  traverse_id INTEGER NOT NULL,
  x DOUBLE PRECISION NOT NULL,
  y DOUBLE PRECISION NOT NULL,
  velocity_pressure DOUBLE PRECISION NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_traverse_point PRIMARY KEY (id),
  CONSTRAINT ck_traverse_point_velocity_pressure CHECK (velocity_pressure >= 0),
  CONSTRAINT fk_traverse_point_traverse_id_traverse FOREIGN KEY(traverse_id) REFERENCES traverse (id),
  CONSTRAINT fk_traverse_point_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_traverse_point_traverse_id ON traverse_point (traverse_id);
COMMENT ON COLUMN traverse_point.x IS 'm, from the middle, to the right';
COMMENT ON COLUMN traverse_point.y IS 'm, from the middle, up';
COMMENT ON COLUMN traverse_point.velocity_pressure IS 'Pa';

CREATE TABLE porting_bout (
  job_id INTEGER NOT NULL,
  held_on DATE NOT NULL,
  hours DOUBLE PRECISION NOT NULL,
  flow DOUBLE PRECISION NOT NULL,
  walls JSONB NOT NULL,
  done VARCHAR NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_porting_bout PRIMARY KEY (id),
  CONSTRAINT ck_porting_bout_positive CHECK (hours > 0 and flow > 0),
  CONSTRAINT fk_porting_bout_job_id_porting_job FOREIGN KEY(job_id) REFERENCES porting_job (id),
  CONSTRAINT fk_porting_bout_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_porting_bout_job_id ON porting_bout (job_id);
COMMENT ON COLUMN porting_bout.hours IS 's';
COMMENT ON COLUMN porting_bout.flow IS 'm3/s at the test pressure';
COMMENT ON COLUMN porting_bout.walls IS 'pairs of point and thickness in m';
COMMENT ON COLUMN porting_bout.done IS 'what was cut';

CREATE TABLE prediction (
  application_id INTEGER NOT NULL,
  card_id INTEGER,
  quantity VARCHAR NOT NULL,
  source VARCHAR NOT NULL,
  source_name VARCHAR NOT NULL,
  points JSONB NOT NULL,
  inputs JSONB NOT NULL,
  figures JSONB NOT NULL,
  expects VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  after_test BOOLEAN NOT NULL,
  supersedes_id INTEGER,
  id SERIAL NOT NULL,
  CONSTRAINT pk_prediction PRIMARY KEY (id),
  CONSTRAINT ck_prediction_quantity CHECK (quantity in ('', 'torque', 'power', 'peak_speed', 'airflow')),
  CONSTRAINT ck_prediction_source CHECK (source in ('words', 'hand', 'school', 'simulation')),
  CONSTRAINT ck_prediction_curve CHECK ((quantity = '') = (source = 'words')),
  CONSTRAINT fk_prediction_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_prediction_card_id_test_card FOREIGN KEY(card_id) REFERENCES test_card (id),
  CONSTRAINT fk_prediction_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id),
  CONSTRAINT uq_prediction_supersedes_id UNIQUE (supersedes_id),
  CONSTRAINT fk_prediction_supersedes_id_prediction FOREIGN KEY(supersedes_id) REFERENCES prediction (id)
);
CREATE INDEX ix_prediction_application_id ON prediction (application_id);
COMMENT ON COLUMN prediction.card_id IS 'the card that stood when it was made';
COMMENT ON COLUMN prediction.quantity IS 'torque, power, peak_speed, airflow; empty: words alone';
COMMENT ON COLUMN prediction.source IS 'words, hand, school or simulation';
COMMENT ON COLUMN prediction.source_name IS 'which school or which simulation';
COMMENT ON COLUMN prediction.points IS 'rows of place, least, expected, most; SI';
COMMENT ON COLUMN prediction.inputs IS 'SI values by name';
COMMENT ON COLUMN prediction.figures IS 'figures with their working';
COMMENT ON COLUMN prediction.expects IS 'what is expected, and what that rests on, in words';
COMMENT ON COLUMN prediction.after_test IS 'made after pulls were already recorded';

CREATE TABLE attachment_mark (
  attachment_id INTEGER NOT NULL,
  reason VARCHAR NOT NULL,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_attachment_mark PRIMARY KEY (id),
  CONSTRAINT fk_attachment_mark_attachment_id_attachment FOREIGN KEY(attachment_id) REFERENCES attachment (id),
  CONSTRAINT fk_attachment_mark_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_attachment_mark_attachment_id ON attachment_mark (attachment_id);

CREATE TABLE claim_bundle (
  claim_id INTEGER NOT NULL,
  blob_id INTEGER NOT NULL,
  sha256 VARCHAR NOT NULL,
  size INTEGER NOT NULL,
  discloses JSONB NOT NULL,
  confirmed_by_id INTEGER NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_claim_bundle PRIMARY KEY (id),
  CONSTRAINT uq_claim_bundle_claim_id UNIQUE (claim_id),
  CONSTRAINT fk_claim_bundle_claim_id_claim FOREIGN KEY(claim_id) REFERENCES claim (id),
  CONSTRAINT fk_claim_bundle_blob_id_blob FOREIGN KEY(blob_id) REFERENCES blob (id),
  CONSTRAINT fk_claim_bundle_confirmed_by_id_user_account FOREIGN KEY(confirmed_by_id) REFERENCES user_account (id)
);
COMMENT ON COLUMN claim_bundle.discloses IS 'what it holds, as its approver confirmed it';

CREATE TABLE reading (
  trace_id INTEGER NOT NULL,
  lift DOUBLE PRECISION NOT NULL,
  range_id INTEGER,
  percent DOUBLE PRECISION,
  direct_flow DOUBLE PRECISION,
  meter_drop DOUBLE PRECISION,
  pressure DOUBLE PRECISION NOT NULL,
  inlet_temperature DOUBLE PRECISION,
  meter_temperature DOUBLE PRECISION,
  spread DOUBLE PRECISION NOT NULL,
  samples INTEGER NOT NULL,
  flags JSONB NOT NULL,
  source VARCHAR NOT NULL,
  sheet_id INTEGER,
  capture_key VARCHAR,
  taken_at TIMESTAMP WITH TIME ZONE NOT NULL,
  taken_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_reading PRIMARY KEY (id),
  CONSTRAINT ck_reading_positive CHECK (lift >= 0 and pressure > 0),
  CONSTRAINT ck_reading_percent CHECK (percent is null or (percent >= 0 and percent <= 1)),
  CONSTRAINT ck_reading_direct_flow CHECK (direct_flow is null or direct_flow >= 0),
  CONSTRAINT ck_reading_meter_drop CHECK (meter_drop is null or meter_drop >= 0),
  CONSTRAINT ck_reading_one_way CHECK (num_nonnulls(percent, direct_flow, meter_drop) = 1),
  CONSTRAINT ck_reading_range CHECK (direct_flow is not null or range_id is not null),
  CONSTRAINT ck_reading_source CHECK (source in ('hand', 'bench', 'sheet')),
  CONSTRAINT fk_reading_trace_id_trace FOREIGN KEY(trace_id) REFERENCES trace (id),
  CONSTRAINT fk_reading_range_id_bench_range FOREIGN KEY(range_id) REFERENCES bench_range (id),
  CONSTRAINT fk_reading_sheet_id_bench_sheet FOREIGN KEY(sheet_id) REFERENCES bench_sheet (id),
  CONSTRAINT uq_reading_capture_key UNIQUE (capture_key),
  CONSTRAINT fk_reading_taken_by_id_user_account FOREIGN KEY(taken_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_reading_trace_id ON reading (trace_id);
COMMENT ON COLUMN reading.lift IS 'm; 0 for a fixed part';
COMMENT ON COLUMN reading.percent IS 'share of one';
COMMENT ON COLUMN reading.direct_flow IS 'm3/s';
COMMENT ON COLUMN reading.meter_drop IS 'Pa, across an orifice plate';
COMMENT ON COLUMN reading.pressure IS 'Pa, when it was read';
COMMENT ON COLUMN reading.inlet_temperature IS 'K, where the bench sends it';
COMMENT ON COLUMN reading.meter_temperature IS 'K, where the bench sends it';
COMMENT ON COLUMN reading.spread IS 'standard deviation in the settle window, share';
COMMENT ON COLUMN reading.flags IS 'what spoke against it when it was taken';
COMMENT ON COLUMN reading.source IS 'hand, bench or sheet';
COMMENT ON COLUMN reading.capture_key IS 'so that one press is one reading';

CREATE TABLE cell_run (
  session_id INTEGER NOT NULL,
  dyno_id INTEGER NOT NULL,
  opened_by_id INTEGER NOT NULL,
  opened_at TIMESTAMP WITH TIME ZONE NOT NULL,
  closed_at TIMESTAMP WITH TIME ZONE,
  fitted VARCHAR NOT NULL,
  armed_place INTEGER,
  armed_at DOUBLE PRECISION NOT NULL,
  armed_label VARCHAR NOT NULL,
  armed_by_id INTEGER,
  phase VARCHAR NOT NULL,
  turn INTEGER NOT NULL,
  words VARCHAR NOT NULL,
  recorded_to DOUBLE PRECISION NOT NULL,
  clocks JSONB NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_cell_run PRIMARY KEY (id),
  CONSTRAINT ck_cell_run_phase CHECK (phase in ('idle', 'pulling', 'judging')),
  CONSTRAINT fk_cell_run_session_id_dyno_session FOREIGN KEY(session_id) REFERENCES dyno_session (id),
  CONSTRAINT fk_cell_run_dyno_id_dyno FOREIGN KEY(dyno_id) REFERENCES dyno (id),
  CONSTRAINT fk_cell_run_opened_by_id_user_account FOREIGN KEY(opened_by_id) REFERENCES user_account (id),
  CONSTRAINT fk_cell_run_armed_by_id_user_account FOREIGN KEY(armed_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_cell_run_session_id ON cell_run (session_id);
CREATE UNIQUE INDEX ix_cell_run_open ON cell_run (dyno_id) WHERE closed_at is null;
COMMENT ON COLUMN cell_run.fitted IS 'letter of the variant that somebody said is on';
COMMENT ON COLUMN cell_run.armed_place IS 'place that the next pull takes; none: it is not recorded';
COMMENT ON COLUMN cell_run.armed_at IS 's since 1970';
COMMENT ON COLUMN cell_run.armed_by_id IS 'who takes the pull';
COMMENT ON COLUMN cell_run.turn IS 'counts whatever a screen should show anew';
COMMENT ON COLUMN cell_run.words IS 'what the gateway last said';
COMMENT ON COLUMN cell_run.recorded_to IS 's since 1970 up to which the lines are dealt with';
COMMENT ON COLUMN cell_run.clocks IS 'share by which each device''s clock runs off';

CREATE TABLE tuning_round (
  session_id INTEGER NOT NULL,
  label VARCHAR NOT NULL,
  number INTEGER NOT NULL,
  kind VARCHAR NOT NULL,
  before VARCHAR NOT NULL,
  after VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  factor DOUBLE PRECISION,
  fuel_id INTEGER,
  after_place INTEGER NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_tuning_round PRIMARY KEY (id),
  CONSTRAINT uq_tuning_round_session_id UNIQUE (session_id, label, number),
  CONSTRAINT fk_tuning_round_session_id_dyno_session FOREIGN KEY(session_id) REFERENCES dyno_session (id),
  CONSTRAINT fk_tuning_round_fuel_id_fuel_batch FOREIGN KEY(fuel_id) REFERENCES fuel_batch (id),
  CONSTRAINT fk_tuning_round_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_tuning_round_session_id ON tuning_round (session_id);
COMMENT ON COLUMN tuning_round.number IS 'of this letter, from 1';
COMMENT ON COLUMN tuning_round.kind IS 'jet, fuel, injection, ignition, map, back to the start';
COMMENT ON COLUMN tuning_round.factor IS 'what lambda should be multiplied by; none: not foretold';
COMMENT ON COLUMN tuning_round.after_place IS 'place of the last pull before it';

CREATE TABLE session_closing (
  session_id INTEGER NOT NULL,
  is_closed BOOLEAN NOT NULL,
  gaps JSONB NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_session_closing PRIMARY KEY (id),
  CONSTRAINT fk_session_closing_session_id_dyno_session FOREIGN KEY(session_id) REFERENCES dyno_session (id),
  CONSTRAINT fk_session_closing_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_session_closing_session_id ON session_closing (session_id);
COMMENT ON COLUMN session_closing.gaps IS 'key, what is missing, reason, number of the owed thing';

CREATE TABLE owed_link (
  before_id INTEGER NOT NULL,
  after_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_owed_link PRIMARY KEY (id),
  CONSTRAINT uq_owed_link_before_id UNIQUE (before_id, after_id),
  CONSTRAINT ck_owed_link_two CHECK (before_id <> after_id),
  CONSTRAINT fk_owed_link_before_id_owed FOREIGN KEY(before_id) REFERENCES owed (id),
  CONSTRAINT fk_owed_link_after_id_owed FOREIGN KEY(after_id) REFERENCES owed (id)
);
CREATE INDEX ix_owed_link_after_id ON owed_link (after_id);
CREATE INDEX ix_owed_link_before_id ON owed_link (before_id);

CREATE TABLE raw_file (
  session_id INTEGER NOT NULL,
  filename VARCHAR NOT NULL,
  sha256 VARCHAR NOT NULL,
  size INTEGER NOT NULL,
  blob_id INTEGER NOT NULL,
  received_at TIMESTAMP WITH TIME ZONE NOT NULL,
  received_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_raw_file PRIMARY KEY (id),
  CONSTRAINT uq_raw_file_session_id UNIQUE (session_id, sha256),
  CONSTRAINT fk_raw_file_session_id_dyno_session FOREIGN KEY(session_id) REFERENCES dyno_session (id),
  CONSTRAINT fk_raw_file_blob_id_blob FOREIGN KEY(blob_id) REFERENCES blob (id),
  CONSTRAINT fk_raw_file_received_by_id_user_account FOREIGN KEY(received_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_raw_file_session_id ON raw_file (session_id);

CREATE TABLE pull (
  session_id INTEGER NOT NULL,
  sequence INTEGER NOT NULL,
  label VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_pull PRIMARY KEY (id),
  CONSTRAINT uq_pull_session_id UNIQUE (session_id, sequence),
  CONSTRAINT ck_pull_kind CHECK (kind in ('sweep', 'steady', 'idle')),
  CONSTRAINT fk_pull_session_id_dyno_session FOREIGN KEY(session_id) REFERENCES dyno_session (id)
);
CREATE INDEX ix_pull_session_id ON pull (session_id);
COMMENT ON COLUMN pull.sequence IS 'place in the order of the session, from 1';
COMMENT ON COLUMN pull.label IS 'letter of the variant, as its card names it';
COMMENT ON COLUMN pull.kind IS 'sweep, steady or idle';

CREATE TABLE typed_pull (
  session_id INTEGER NOT NULL,
  label VARCHAR NOT NULL,
  source VARCHAR NOT NULL,
  rows JSONB NOT NULL,
  checks JSONB NOT NULL,
  replaces_id INTEGER,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_typed_pull PRIMARY KEY (id),
  CONSTRAINT fk_typed_pull_session_id_dyno_session FOREIGN KEY(session_id) REFERENCES dyno_session (id),
  CONSTRAINT uq_typed_pull_replaces_id UNIQUE (replaces_id),
  CONSTRAINT fk_typed_pull_replaces_id_typed_pull FOREIGN KEY(replaces_id) REFERENCES typed_pull (id),
  CONSTRAINT fk_typed_pull_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_typed_pull_session_id ON typed_pull (session_id);
COMMENT ON COLUMN typed_pull.label IS 'letter of the variant';
COMMENT ON COLUMN typed_pull.source IS 'the sheet or photo it stands on';
COMMENT ON COLUMN typed_pull.rows IS 'speed [rad/s], torque [N m] or null, power [W] or null';

CREATE TABLE pull_condition (
  session_id INTEGER NOT NULL,
  label VARCHAR NOT NULL,
  name VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_pull_condition PRIMARY KEY (id),
  CONSTRAINT fk_pull_condition_session_id_dyno_session FOREIGN KEY(session_id) REFERENCES dyno_session (id),
  CONSTRAINT fk_pull_condition_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_pull_condition_session_id ON pull_condition (session_id);

CREATE TABLE prediction_seal (
  prediction_id INTEGER NOT NULL,
  card_id INTEGER,
  sealed_at TIMESTAMP WITH TIME ZONE NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_prediction_seal PRIMARY KEY (id),
  CONSTRAINT uq_prediction_seal_prediction_id UNIQUE (prediction_id),
  CONSTRAINT fk_prediction_seal_prediction_id_prediction FOREIGN KEY(prediction_id) REFERENCES prediction (id),
  CONSTRAINT fk_prediction_seal_card_id_test_card FOREIGN KEY(card_id) REFERENCES test_card (id)
);
COMMENT ON COLUMN prediction_seal.card_id IS 'the card whose pull sealed it';

CREATE TABLE prediction_score (
  prediction_id INTEGER NOT NULL,
  evidence_key VARCHAR NOT NULL,
  bands JSONB NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_prediction_score PRIMARY KEY (id),
  CONSTRAINT uq_prediction_score_prediction_id UNIQUE (prediction_id),
  CONSTRAINT fk_prediction_score_prediction_id_prediction FOREIGN KEY(prediction_id) REFERENCES prediction (id)
);
COMMENT ON COLUMN prediction_score.evidence_key IS 'identifies the evidence it was made from';
COMMENT ON COLUMN prediction_score.bands IS 'name, said, found, half_width, reference, chance, outcome; SI';

CREATE TABLE difference_reason (
  application_id INTEGER NOT NULL,
  line VARCHAR NOT NULL,
  a VARCHAR NOT NULL,
  b VARCHAR NOT NULL,
  reason VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  low DOUBLE PRECISION,
  high DOUBLE PRECISION,
  session_id INTEGER,
  from_label VARCHAR NOT NULL,
  to_label VARCHAR NOT NULL,
  given_at TIMESTAMP WITH TIME ZONE NOT NULL,
  given_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_difference_reason PRIMARY KEY (id),
  CONSTRAINT ck_difference_reason_reason CHECK (length(trim(reason)) > 0),
  CONSTRAINT ck_difference_reason_kind CHECK (kind in ('', 'measured', 'bounded', 'none', 'unknown')),
  CONSTRAINT fk_difference_reason_application_id_application FOREIGN KEY(application_id) REFERENCES application (id),
  CONSTRAINT fk_difference_reason_session_id_dyno_session FOREIGN KEY(session_id) REFERENCES dyno_session (id),
  CONSTRAINT fk_difference_reason_given_by_id_user_account FOREIGN KEY(given_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_difference_reason_application_id ON difference_reason (application_id);
COMMENT ON COLUMN difference_reason.line IS 'line of the build sheet, or “card”';
COMMENT ON COLUMN difference_reason.a IS 'A''s words';
COMMENT ON COLUMN difference_reason.b IS 'B''s words';
COMMENT ON COLUMN difference_reason.kind IS 'measured, bounded, none or unknown; empty: a reason alone';
COMMENT ON COLUMN difference_reason.low IS 'least share of A''s torque that it may move B − A by, of a bounded one';
COMMENT ON COLUMN difference_reason.high IS 'most, of a bounded one';
COMMENT ON COLUMN difference_reason.session_id IS 'the session in which it was measured alone';
COMMENT ON COLUMN difference_reason.from_label IS 'letter without the change there';
COMMENT ON COLUMN difference_reason.to_label IS 'letter with it';

CREATE TABLE reading_mark (
  reading_id INTEGER NOT NULL,
  replaced_by_id INTEGER,
  reason VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_reading_mark PRIMARY KEY (id),
  CONSTRAINT ck_reading_mark_reason CHECK (length(trim(reason)) > 0),
  CONSTRAINT fk_reading_mark_reading_id_reading FOREIGN KEY(reading_id) REFERENCES reading (id),
  CONSTRAINT fk_reading_mark_replaced_by_id_reading FOREIGN KEY(replaced_by_id) REFERENCES reading (id),
  CONSTRAINT fk_reading_mark_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_reading_mark_reading_id ON reading_mark (reading_id);

CREATE TABLE cell_block (
  run_id INTEGER NOT NULL,
  role VARCHAR NOT NULL,
  last_at DOUBLE PRECISION NOT NULL,
  lines BYTEA NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_cell_block PRIMARY KEY (id),
  CONSTRAINT fk_cell_block_run_id_cell_run FOREIGN KEY(run_id) REFERENCES cell_run (id)
);
CREATE INDEX ix_cell_block_run_at ON cell_block (run_id, last_at);
COMMENT ON COLUMN cell_block.role IS 'dyno, logger or weather';
COMMENT ON COLUMN cell_block.last_at IS 's since 1970 of its last line';
COMMENT ON COLUMN cell_block.lines IS 'JSON, packed: moment and values [SI] of each line';

CREATE TABLE log_read (
  file_id INTEGER NOT NULL,
  facts JSONB NOT NULL,
  thin BYTEA NOT NULL,
  read_at TIMESTAMP WITH TIME ZONE NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_log_read PRIMARY KEY (id),
  CONSTRAINT uq_log_read_file_id UNIQUE (file_id),
  CONSTRAINT fk_log_read_file_id_raw_file FOREIGN KEY(file_id) REFERENCES raw_file (id)
);
COMMENT ON COLUMN log_read.facts IS 'tables with headers, units and rows, or why it was refused';
COMMENT ON COLUMN log_read.thin IS 'figures of the tables, packed float64';

CREATE TABLE pull_reading (
  pull_id INTEGER NOT NULL,
  number INTEGER NOT NULL,
  file_id INTEGER NOT NULL,
  part JSONB NOT NULL,
  columns JSONB NOT NULL,
  told JSONB NOT NULL,
  checks JSONB NOT NULL,
  logger_file_id INTEGER,
  lag DOUBLE PRECISION,
  why VARCHAR NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_pull_reading PRIMARY KEY (id),
  CONSTRAINT uq_pull_reading_pull_id UNIQUE (pull_id, number),
  CONSTRAINT fk_pull_reading_pull_id_pull FOREIGN KEY(pull_id) REFERENCES pull (id),
  CONSTRAINT fk_pull_reading_file_id_raw_file FOREIGN KEY(file_id) REFERENCES raw_file (id),
  CONSTRAINT fk_pull_reading_logger_file_id_raw_file FOREIGN KEY(logger_file_id) REFERENCES raw_file (id),
  CONSTRAINT fk_pull_reading_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_pull_reading_logger_file_id ON pull_reading (logger_file_id);
CREATE INDEX ix_pull_reading_pull_id ON pull_reading (pull_id);
CREATE INDEX ix_pull_reading_file_id ON pull_reading (file_id);
COMMENT ON COLUMN pull_reading.number IS 'version, from 1';
COMMENT ON COLUMN pull_reading.part IS 'table of the file, first and last row; empty: all of it';
COMMENT ON COLUMN pull_reading.columns IS 'the column mapping it was read with';
COMMENT ON COLUMN pull_reading.told IS 'scale of the mixture meter, smoothing …';
COMMENT ON COLUMN pull_reading.checks IS 'outcome of each check when it was read';
COMMENT ON COLUMN pull_reading.logger_file_id IS 'a second file of the same pull';
COMMENT ON COLUMN pull_reading.lag IS 's, what the second file''s clock is behind';
COMMENT ON COLUMN pull_reading.why IS 'why it was read anew';

CREATE TABLE pull_judgement (
  pull_id INTEGER NOT NULL,
  valid BOOLEAN NOT NULL,
  reason VARCHAR NOT NULL,
  automatic BOOLEAN NOT NULL,
  made_at TIMESTAMP WITH TIME ZONE NOT NULL,
  made_by_id INTEGER NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_pull_judgement PRIMARY KEY (id),
  CONSTRAINT ck_pull_judgement_reason CHECK (length(trim(reason)) > 0),
  CONSTRAINT fk_pull_judgement_pull_id_pull FOREIGN KEY(pull_id) REFERENCES pull (id),
  CONSTRAINT fk_pull_judgement_made_by_id_user_account FOREIGN KEY(made_by_id) REFERENCES user_account (id)
);
CREATE INDEX ix_pull_judgement_pull_id ON pull_judgement (pull_id);

CREATE TABLE channel (
  reading_id INTEGER NOT NULL,
  name VARCHAR NOT NULL,
  label VARCHAR NOT NULL,
  kind VARCHAR NOT NULL,
  rate DOUBLE PRECISION,
  values DOUBLE PRECISION[] NOT NULL,
  id SERIAL NOT NULL,
  CONSTRAINT pk_channel PRIMARY KEY (id),
  CONSTRAINT uq_channel_reading_id UNIQUE (reading_id, name),
  CONSTRAINT fk_channel_reading_id_pull_reading FOREIGN KEY(reading_id) REFERENCES pull_reading (id)
);
COMMENT ON COLUMN channel.label IS 'what the source calls it';
COMMENT ON COLUMN channel.kind IS 'kind of quantity; values are SI';
COMMENT ON COLUMN channel.rate IS 'Hz at which the source wrote it; no detail is finer';
