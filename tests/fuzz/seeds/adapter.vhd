library ieee;
use ieee.std_logic_1164.all;
entity top is
  port (A1 : in std_logic; Y1 : out std_logic; Z : out std_logic);
end entity;
architecture adapter of top is
  signal inside_y_1, inside_y_0 : std_logic;
begin
  Y1 <= not inside_y_1;
  Z <= '1';
  wrapped : component core
    port map (
      a => A1,
      y(1) => inside_y_1,
      y(0) => inside_y_0
    );
end architecture;
