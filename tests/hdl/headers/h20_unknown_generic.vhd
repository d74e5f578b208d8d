--= error 3 'width' is not known

entity m is port (clk : in std_logic; a : in std_logic_vector(width - 1 downto 0)); end m;
