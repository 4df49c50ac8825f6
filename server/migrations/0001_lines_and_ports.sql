-- Lines get their cable, ports what is set and wired at each device; what is not known yet is what is usual.
UPDATE "lines" SET "body" = jsonb_build_object(
  'boundTo', null,
  'cable', jsonb_build_object('conductorOhmPerKm', 90, 'shieldOhmPerKm', 12, 'reference', true, 'crossing', 'straight', 'colours', '{}'::jsonb, 'repeatersAtM', '[]'::jsonb)
) || "body" WHERE "body"->>'kind' = 'serial';
--> statement-breakpoint
UPDATE "ports" SET "body" = jsonb_build_object(
  'setHow', '', 'mask', '255.255.255.0', 'gateway', null, 'leased', false, 'role', 'answers', 'framing', 'tcp', 'otherClients', 0
) || "body" WHERE "body"->>'kind' = 'ethernet';
--> statement-breakpoint
UPDATE "ports" SET "body" = jsonb_build_object(
  'setHow', '', 'framing', 'rtu', 'levels', 'rs485', 'duplex', 'half', 'atM', 0, 'stubM', 0, 'terminated', false, 'bias', false,
  'shield', 'open', 'reference', 'resistance', 'isolated', false, 'earthV', 0, 'unitLoads', 1, 'driverLoads', 32,
  'terminals', '{}'::jsonb, 'plug', 'dte', 'handshake', 'none'
) || "body" WHERE "body"->>'kind' = 'serial';
