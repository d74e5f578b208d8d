--= top m
--= caution not-plannable
--= caution not-plannable
--= port clk in std_logic
package kinds is
  type bus_t is record
    addr : std_logic_vector(7 downto 0);
    en : std_logic;
  end record;
  type state_t is (idle, run);
end kinds;
entity m is port (clk : in std_logic; b : in work.kinds.bus_t; s : out state_t); end m;
