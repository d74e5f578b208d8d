--= top m
--= caution not-plannable
--= port a in std_logic
--= port b out std_logic
--= port c inout std_logic_vector 3:0
entity m is port (a : std_logic; b : buffer std_logic; c : inout std_logic_vector(3 downto 0); d : linkage std_logic); end m;
