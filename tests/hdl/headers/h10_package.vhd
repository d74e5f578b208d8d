--= top m
--= port a in std_logic_vector 23:0
--= port b in std_logic_vector 15:0
package widths is
  constant data_width : natural := 24;
  constant half, other : integer := data_width / 2 + 4;
  subtype word is std_logic_vector(15 downto 0);
  function f(x : integer) return integer;
end package widths;
package body widths is
  function f(x : integer) return integer is begin if x > 1 then return 2; end if; return x; end f;
end package body widths;
use work.widths.all;
entity m is port (a : in std_logic_vector(work.widths.data_width - 1 downto 0); b : in word); end m;
