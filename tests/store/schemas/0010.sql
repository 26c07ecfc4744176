CREATE TABLE events (
	id INTEGER NOT NULL, 
	at BIGINT NOT NULL, 
	visitor VARCHAR(40) NOT NULL, 
	kind VARCHAR(8) NOT NULL, 
	page VARCHAR(16) NOT NULL, 
	variant VARCHAR(2) NOT NULL, 
	what VARCHAR(120) NOT NULL, 
	amount INTEGER NOT NULL, 
	source VARCHAR(120) NOT NULL, 
	campaign VARCHAR(120) NOT NULL, 
	device VARCHAR(10) NOT NULL, 
	mark VARCHAR(8) NOT NULL, 
	aside BOOLEAN DEFAULT '0' NOT NULL, 
	PRIMARY KEY (id)
);
CREATE INDEX events_by_time ON events (at);
CREATE INDEX events_by_visitor ON events (visitor, at);
CREATE TABLE arrived (
	visitor VARCHAR(40) NOT NULL, 
	page VARCHAR(16) NOT NULL, 
	variant VARCHAR(2) NOT NULL, 
	at BIGINT NOT NULL, 
	first BIGINT NOT NULL, 
	won BIGINT, 
	aside BOOLEAN NOT NULL, 
	PRIMARY KEY (visitor, page, variant)
);
CREATE INDEX arrived_by_page ON arrived (page, first);
CREATE TABLE day_counts (
	day INTEGER NOT NULL, 
	page VARCHAR(16) NOT NULL, 
	variant VARCHAR(2) NOT NULL, 
	came INTEGER NOT NULL, 
	won INTEGER NOT NULL, 
	PRIMARY KEY (day, page, variant)
);
CREATE TABLE reached_by (
	goal VARCHAR(120) NOT NULL, 
	visitor VARCHAR(40) NOT NULL, 
	page VARCHAR(16) NOT NULL, 
	variant VARCHAR(2) NOT NULL, 
	first BIGINT NOT NULL, 
	last BIGINT NOT NULL, 
	times INTEGER NOT NULL, 
	PRIMARY KEY (goal, visitor, page, variant)
);
CREATE INDEX reached_by_page ON reached_by (page, goal);
CREATE TABLE hour_counts (
	hour INTEGER NOT NULL, 
	page VARCHAR(16) NOT NULL, 
	came INTEGER NOT NULL, 
	won INTEGER NOT NULL, 
	PRIMARY KEY (hour, page)
);
CREATE TABLE day_touches (
	day INTEGER NOT NULL, 
	page VARCHAR(16) NOT NULL, 
	variant VARCHAR(2) NOT NULL, 
	device VARCHAR(10) NOT NULL, 
	kind VARCHAR(8) NOT NULL, 
	what VARCHAR(40) NOT NULL, 
	times INTEGER NOT NULL, 
	PRIMARY KEY (day, page, variant, device, kind, what)
);
CREATE TABLE journeys (
	visitor VARCHAR(40) NOT NULL, 
	day INTEGER NOT NULL, 
	last BIGINT NOT NULL, 
	source VARCHAR(120) NOT NULL, 
	campaign VARCHAR(120) NOT NULL, 
	device VARCHAR(10) NOT NULL, 
	path TEXT NOT NULL, 
	PRIMARY KEY (visitor)
);
CREATE TABLE day_paths (
	day INTEGER NOT NULL, 
	source VARCHAR(120) NOT NULL, 
	campaign VARCHAR(120) NOT NULL, 
	device VARCHAR(10) NOT NULL, 
	path TEXT NOT NULL, 
	visits INTEGER NOT NULL, 
	PRIMARY KEY (day, source, campaign, device, path)
);
CREATE TABLE day_fields (
	day INTEGER NOT NULL, 
	field VARCHAR(120) NOT NULL, 
	times INTEGER NOT NULL, 
	took_ms BIGINT NOT NULL, 
	faults INTEGER NOT NULL, 
	stops INTEGER NOT NULL, 
	PRIMARY KEY (day, field)
);
CREATE TABLE range_counts (
	host VARCHAR(16) NOT NULL, 
	what VARCHAR(16) NOT NULL, 
	range VARCHAR(60) NOT NULL, 
	count INTEGER NOT NULL, 
	at BIGINT NOT NULL, 
	PRIMARY KEY (host, what, range)
);
CREATE TABLE leads (
	id INTEGER NOT NULL, 
	"key" VARCHAR(64) NOT NULL, 
	at BIGINT NOT NULL, 
	visitor VARCHAR(40) NOT NULL, 
	form VARCHAR(16) NOT NULL, 
	form_name VARCHAR(200) NOT NULL, 
	page VARCHAR(16) NOT NULL, 
	variant VARCHAR(2) NOT NULL, 
	email VARCHAR(320) NOT NULL, 
	answers TEXT NOT NULL, 
	robot BOOLEAN NOT NULL, 
	signs TEXT NOT NULL, 
	source VARCHAR(120) NOT NULL, 
	trial BOOLEAN DEFAULT '0' NOT NULL, 
	status VARCHAR(10) DEFAULT 'new' NOT NULL, 
	tags TEXT DEFAULT '' NOT NULL, 
	person VARCHAR(320) DEFAULT '' NOT NULL, 
	outside VARCHAR(400) DEFAULT '' NOT NULL, 
	mark VARCHAR(8) DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE ("key")
);
CREATE INDEX leads_by_email ON leads (email, id);
CREATE INDEX leads_by_form ON leads (form, robot, id);
CREATE INDEX leads_by_page ON leads (page, variant, robot, visitor);
CREATE INDEX leads_by_status ON leads (status, robot, id);
CREATE INDEX leads_by_time ON leads (at);
CREATE INDEX leads_by_person ON leads (person, id);
CREATE INDEX leads_by_tags ON leads (tags);
CREATE INDEX leads_by_robot ON leads (robot, trial, id);
CREATE TABLE filed (
	id INTEGER NOT NULL, 
	lead_key VARCHAR(64) NOT NULL, 
	field VARCHAR(16) NOT NULL, 
	name VARCHAR(120) NOT NULL, 
	path VARCHAR(200) NOT NULL, 
	PRIMARY KEY (id)
);
CREATE INDEX filed_by_lead ON filed (lead_key);
CREATE TABLE unfinished (
	"key" VARCHAR(64) NOT NULL, 
	at BIGINT NOT NULL, 
	visitor VARCHAR(40) NOT NULL, 
	form VARCHAR(16) NOT NULL, 
	form_name VARCHAR(200) NOT NULL, 
	page VARCHAR(16) NOT NULL, 
	variant VARCHAR(2) NOT NULL, 
	email VARCHAR(320) NOT NULL, 
	answers TEXT NOT NULL, 
	person VARCHAR(320) DEFAULT '' NOT NULL, 
	PRIMARY KEY ("key")
);
CREATE INDEX unfinished_by_person ON unfinished (person);
CREATE INDEX unfinished_by_time ON unfinished (at);
CREATE TABLE outbox (
	id INTEGER NOT NULL, 
	lead INTEGER NOT NULL, 
	route VARCHAR(16) NOT NULL, 
	"key" VARCHAR(64) NOT NULL, 
	state VARCHAR(8) NOT NULL, 
	lane VARCHAR(64) DEFAULT '' NOT NULL, 
	tries INTEGER NOT NULL, 
	due BIGINT NOT NULL, 
	held_until BIGINT NOT NULL, 
	waited BIGINT DEFAULT '0' NOT NULL, 
	result TEXT NOT NULL, 
	result_at BIGINT NOT NULL, 
	request TEXT DEFAULT '' NOT NULL, 
	answer TEXT DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE ("key")
);
CREATE INDEX outbox_by_lane ON outbox (lane, state, id);
CREATE INDEX outbox_by_lead ON outbox (lead);
CREATE INDEX outbox_due ON outbox (state, due);
CREATE TABLE shared (
	name VARCHAR(40) NOT NULL, 
	value TEXT NOT NULL, 
	PRIMARY KEY (name)
);
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
CREATE VIRTUAL TABLE leads_words USING fts5(email, answers, form_name, source, tags, content='leads', content_rowid='id', tokenize='trigram', columnsize=0);
CREATE TRIGGER leads_words_added AFTER INSERT ON leads BEGIN INSERT INTO leads_words(rowid, email, answers, form_name, source, tags) VALUES (new.id, new.email, new.answers, new.form_name, new.source, new.tags); END;
CREATE TRIGGER leads_words_gone AFTER DELETE ON leads BEGIN INSERT INTO leads_words(leads_words, rowid, email, answers, form_name, source, tags) VALUES ('delete', old.id, old.email, old.answers, old.form_name, old.source, old.tags); END;
CREATE TRIGGER leads_words_changed AFTER UPDATE OF email, answers, form_name, source, tags ON leads BEGIN INSERT INTO leads_words(leads_words, rowid, email, answers, form_name, source, tags) VALUES ('delete', old.id, old.email, old.answers, old.form_name, old.source, old.tags); INSERT INTO leads_words(rowid, email, answers, form_name, source, tags) VALUES (new.id, new.email, new.answers, new.form_name, new.source, new.tags); END;
INSERT INTO alembic_version VALUES('0010');
