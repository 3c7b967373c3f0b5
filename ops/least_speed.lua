-- Takes in a request's body itself, at a least speed: nginx alone waits for ever for a body that arrives a byte at a time,
-- and each such body holds a place and its share of the disk.  Runs once it is known who sends it.

local GRACE = 10 -- seconds in which nothing is asked of a connection
local LEAST = 50 * 1000 -- bytes a second afterwards, on average: a quarter of what a poor phone line sends
local PIECE = 64 * 1024

local length = tonumber(ngx.var.content_length)
if not length then
    return ngx.exit(ngx.var.http_transfer_encoding and 413 or ngx.OK) -- no body, or one of unknown length
end
local line = length > 0 and ngx.req.socket()
if not line then
    return
end
line:settimeout(GRACE * 1000)
ngx.req.init_body(PIECE)
local began, taken = ngx.now(), 0
while taken < length do
    local piece = line:receiveany(math.min(PIECE, length - taken))
    if not piece then
        return ngx.exit(408)
    end
    ngx.req.append_body(piece)
    taken = taken + #piece
    ngx.update_time()
    if taken < (ngx.now() - began - GRACE) * LEAST then
        return ngx.exit(408)
    end
end
ngx.req.finish_body()
