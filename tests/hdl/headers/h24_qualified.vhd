--= top m
--= port a in std_logic
--= port b out std_logic_vector 7:0
entity m is port (a : in ieee.std_logic_1164.std_logic; b : out ieee.std_logic_1164.std_logic_vector(7 downto 0)); end m;
