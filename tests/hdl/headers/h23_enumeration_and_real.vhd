--= top m
--= caution not-plannable
--= port clk in std_logic
entity m is port (clk : in std_logic; level : in real); end m;
