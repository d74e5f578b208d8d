--= top m
--= port a in integer 7:0
--= port b in natural 3:0
--= port c out integer 4:0
--= port d out positive 3:0
entity m is
  port (a : in integer range 0 to 255; b : in natural range 0 to 9; c : out integer range -10 to 15; d : out positive range 1 to 8);
end m;
