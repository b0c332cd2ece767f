-- How a class practises at home.
alter table class add column home_settings jsonb not null
    default '{"version": 1, "data": {"days": [1, 2, 3, 4, 5], "minutes": 10, "taps": 20, "sitting": "one"}}';
