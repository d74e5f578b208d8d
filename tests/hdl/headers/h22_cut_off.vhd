--= error 4 cut off
entity m is
  port (a : in std_logic;
