--= top m
--= port a in std_logic
--= port b in std_logic
--= port x out std_ulogic
--= port y out std_ulogic
entity m is
  port (signal a, b : in std_logic; x, y : out std_ulogic);
end entity;
