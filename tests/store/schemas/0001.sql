CREATE TABLE visits (
	id INTEGER NOT NULL,
	at BIGINT NOT NULL,
	visitor VARCHAR(40) NOT NULL,
	page VARCHAR(16) NOT NULL,
	variant VARCHAR(2) NOT NULL,
	source VARCHAR(120) NOT NULL,
	campaign VARCHAR(120) NOT NULL,
	device VARCHAR(10) NOT NULL,
	PRIMARY KEY (id)
);
CREATE INDEX visits_by_page ON visits (page, variant, visitor);
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
	PRIMARY KEY (id),
	UNIQUE ("key")
);
CREATE INDEX leads_by_page ON leads (page, variant, robot, visitor);
CREATE INDEX leads_by_time ON leads (at);
CREATE TABLE outbox (
	id INTEGER NOT NULL,
	lead INTEGER NOT NULL,
	route VARCHAR(16) NOT NULL,
	"key" VARCHAR(64) NOT NULL,
	state VARCHAR(8) NOT NULL,
	tries INTEGER NOT NULL,
	due BIGINT NOT NULL,
	held_until BIGINT NOT NULL,
	result TEXT NOT NULL,
	result_at BIGINT NOT NULL,
	PRIMARY KEY (id),
	UNIQUE ("key")
);
CREATE INDEX outbox_due ON outbox (state, due);
CREATE INDEX outbox_by_lead ON outbox (lead);
