-- New ids of many rows that are written together: in their order, so that every index of them grows at its end.
-- A version 7 UUID (RFC 9562, 5.7): milliseconds, carried on by every 4096 rows (its 6.2, method 1), then chance.
CREATE FUNCTION id_in_order(p_n bigint)
RETURNS uuid LANGUAGE sql VOLATILE AS $$
    SELECT encode(overlay(overlay(uuid_send(gen_random_uuid())
        PLACING substring(int8send(floor(extract(epoch FROM now()) * 1000)::bigint + p_n / 4096) FROM 3) FROM 1 FOR 6)
        PLACING substring(int4send((28672 + p_n % 4096)::integer) FROM 3) FROM 7 FOR 2), 'hex')::uuid
$$;
